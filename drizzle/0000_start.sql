CREATE TABLE `blobs` (
	`hash` text PRIMARY KEY NOT NULL,
	`data` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `jobs` (
	`id` text PRIMARY KEY NOT NULL,
	`shot_id` text,
	`spec` text NOT NULL,
	`spec_hash` text NOT NULL,
	`state` text NOT NULL,
	`done` integer NOT NULL,
	`total` integer NOT NULL,
	`error` text,
	`notes` text NOT NULL,
	`file` text NOT NULL,
	`bytes` integer,
	`created_at` integer NOT NULL,
	`started_at` integer,
	`ended_at` integer,
	FOREIGN KEY (`shot_id`) REFERENCES `shots`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `productions` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `revisions` (
	`shot_id` text NOT NULL,
	`rev` integer NOT NULL,
	`edit_id` text NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`of` integer,
	`patches` text NOT NULL,
	`inverse` text NOT NULL,
	`snapshot` text,
	`created_at` integer NOT NULL,
	PRIMARY KEY(`shot_id`, `rev`),
	FOREIGN KEY (`shot_id`) REFERENCES `shots`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `revisions_edit` ON `revisions` (`shot_id`,`edit_id`);--> statement-breakpoint
CREATE TABLE `shots` (
	`id` text PRIMARY KEY NOT NULL,
	`take_id` text NOT NULL,
	`name` text NOT NULL,
	`rev` integer NOT NULL,
	`recipe` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`take_id`) REFERENCES `takes`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `takes` (
	`id` text PRIMARY KEY NOT NULL,
	`production_id` text NOT NULL,
	`name` text NOT NULL,
	`path` text NOT NULL,
	`state` text NOT NULL,
	`error` text,
	`info` text,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`production_id`) REFERENCES `productions`(`id`) ON UPDATE no action ON DELETE no action
);
