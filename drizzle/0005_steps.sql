ALTER TABLE `shots` ADD `recipe_rev` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `shots` ADD `summary` text;--> statement-breakpoint
UPDATE `shots` SET `recipe_rev` = `rev`;
