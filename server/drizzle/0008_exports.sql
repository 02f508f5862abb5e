CREATE TABLE `account_code` (
	`kind` text NOT NULL,
	`ref_id` integer NOT NULL,
	`code` text NOT NULL,
	PRIMARY KEY(`kind`, `ref_id`)
) STRICT;
--> statement-breakpoint
CREATE TABLE `exported` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`person_id` integer NOT NULL,
	`what` text NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
