CREATE TABLE `measured` (
	`hash` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`method` integer NOT NULL,
	`of` text NOT NULL,
	`data` blob NOT NULL,
	`created_at` integer NOT NULL
);
