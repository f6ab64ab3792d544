CREATE TABLE `kit_sources` (
	`kit_id` text NOT NULL,
	`source_id` text NOT NULL,
	PRIMARY KEY(`kit_id`, `source_id`),
	FOREIGN KEY (`kit_id`) REFERENCES `kits`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `kits` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`schema_version` integer NOT NULL,
	`kit` text NOT NULL,
	`sound_count` integer NOT NULL,
	`created_at` integer NOT NULL,
	`deleted_at` integer
);
