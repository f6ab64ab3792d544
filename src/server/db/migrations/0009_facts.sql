CREATE TABLE `facts` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
