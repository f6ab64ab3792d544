DROP TABLE `grooves`;--> statement-breakpoint
DROP TABLE `kit_sources`;--> statement-breakpoint
DROP TABLE `kits`;