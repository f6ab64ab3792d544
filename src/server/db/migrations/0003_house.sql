CREATE TABLE `documents` (
	`project_id` text PRIMARY KEY NOT NULL,
	`revision` integer NOT NULL,
	`schema_version` integer NOT NULL,
	`document` text NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `project_sources` (
	`project_id` text NOT NULL,
	`source_id` text NOT NULL,
	PRIMARY KEY(`project_id`, `source_id`),
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `project_sources_source` ON `project_sources` (`source_id`);--> statement-breakpoint
CREATE TABLE `snapshots` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`project_id` text NOT NULL,
	`kind` text NOT NULL,
	`revision` integer NOT NULL,
	`label` text NOT NULL,
	`document` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `snapshots_project` ON `snapshots` (`project_id`);--> statement-breakpoint
ALTER TABLE `projects` ADD `tempo_bpm` real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `part_count` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `revisions` ADD `schema_version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `sources` ADD `complete` integer DEFAULT true NOT NULL;--> statement-breakpoint
UPDATE `projects` SET `tempo_bpm` = coalesce(json_extract(`document`, '$.tempoBpm'), 0), `part_count` = coalesce(json_array_length(`document`, '$.partOrder'), 0) WHERE json_valid(`document`);
--> statement-breakpoint
INSERT INTO `documents` (`project_id`, `revision`, `schema_version`, `document`) SELECT `id`, `revision`, CASE WHEN json_valid(`document`) THEN coalesce(json_extract(`document`, '$.schemaVersion'), 1) ELSE 1 END, `document` FROM `projects`;
--> statement-breakpoint
INSERT OR IGNORE INTO `project_sources` (`project_id`, `source_id`) SELECT `projects`.`id`, `each`.`key` FROM `projects`, json_each(`projects`.`document`, '$.sources') AS `each` WHERE json_valid(`projects`.`document`);
