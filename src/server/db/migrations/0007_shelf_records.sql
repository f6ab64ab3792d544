CREATE TABLE `shelf_record_sources` (
	`record_id` text NOT NULL,
	`source_id` text NOT NULL,
	PRIMARY KEY(`record_id`, `source_id`),
	FOREIGN KEY (`record_id`) REFERENCES `shelf_records`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `shelf_records` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`record` text NOT NULL,
	`created_at` integer NOT NULL,
	`deleted_at` integer
);
--> statement-breakpoint
CREATE INDEX `shelf_records_kind` ON `shelf_records` (`kind`);--> statement-breakpoint
INSERT INTO `shelf_records` (`id`, `kind`, `name`, `record`, `created_at`, `deleted_at`) SELECT `id`, 'kit', `name`, `kit`, `created_at`, `deleted_at` FROM `kits`;--> statement-breakpoint
INSERT INTO `shelf_record_sources` (`record_id`, `source_id`) SELECT `kit_id`, `source_id` FROM `kit_sources`;--> statement-breakpoint
INSERT INTO `shelf_records` (`id`, `kind`, `name`, `record`, `created_at`, `deleted_at`) SELECT `id`, 'groove', coalesce(json_extract(`groove`, '$.name'), 'groove'), `groove`, `created_at`, `deleted_at` FROM `grooves`;
