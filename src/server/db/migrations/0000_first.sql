CREATE TABLE `projects` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`revision` integer NOT NULL,
	`document` text NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	`deleted_at` integer
);
--> statement-breakpoint
CREATE TABLE `revisions` (
	`project_id` text NOT NULL,
	`revision` integer NOT NULL,
	`save_id` text NOT NULL,
	`label` text NOT NULL,
	`changes` text NOT NULL,
	`created_at` integer NOT NULL,
	PRIMARY KEY(`project_id`, `revision`),
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `revisions_save_id_unique` ON `revisions` (`save_id`);--> statement-breakpoint
CREATE TABLE `source_chunks` (
	`source_id` text NOT NULL,
	`chunk` integer NOT NULL,
	`bytes` blob NOT NULL,
	PRIMARY KEY(`source_id`, `chunk`),
	FOREIGN KEY (`source_id`) REFERENCES `sources`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `sources` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`sample_rate` integer NOT NULL,
	`channels` integer NOT NULL,
	`frames` integer NOT NULL,
	`byte_length` integer NOT NULL,
	`facts` text NOT NULL,
	`created_at` integer NOT NULL,
	`deleted_at` integer
);
--> statement-breakpoint
CREATE INDEX `sources_created` ON `sources` (`created_at`);