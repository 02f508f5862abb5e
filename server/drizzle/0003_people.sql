ALTER TABLE `person` ADD `pin_hash` text;--> statement-breakpoint
ALTER TABLE `person` ADD `pin_wrong` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD `revision` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `uid` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `device` text DEFAULT '' NOT NULL;