CREATE TABLE `picture` (
	`uid` text PRIMARY KEY NOT NULL,
	`hash` text NOT NULL,
	`type` text NOT NULL,
	`bytes` integer NOT NULL,
	`created_at` integer NOT NULL,
	`created_by` integer NOT NULL,
	FOREIGN KEY (`created_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `picture_hash` ON `picture` (`hash`);