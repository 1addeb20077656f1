UPDATE `jobs` SET `state` = 'stopped' WHERE `state` IN ('queued', 'running') AND `id` NOT IN (SELECT min(`id`) FROM `jobs` WHERE `state` IN ('queued', 'running') GROUP BY `spec_hash`);--> statement-breakpoint
CREATE UNIQUE INDEX `jobs_under_way` ON `jobs` (`spec_hash`) WHERE state IN ('queued', 'running');
