CREATE TABLE `grooves` (
	`id` text PRIMARY KEY NOT NULL,
	`groove` text NOT NULL,
	`created_at` integer NOT NULL
);
