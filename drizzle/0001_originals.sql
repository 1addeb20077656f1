ALTER TABLE `takes` ADD `own` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `takes` ADD `print` text;--> statement-breakpoint
ALTER TABLE `takes` ADD `stills` text;