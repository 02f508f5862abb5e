CREATE TABLE `mail` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`recipient` text NOT NULL,
	`subject` text NOT NULL,
	`body` text NOT NULL,
	`attachments` text NOT NULL,
	`restock_id` integer,
	`state` text NOT NULL,
	`attempts` integer NOT NULL,
	`next_at` integer NOT NULL,
	`trouble` text NOT NULL,
	`created_at` integer NOT NULL,
	`created_by` integer NOT NULL,
	`sent_at` integer,
	FOREIGN KEY (`restock_id`) REFERENCES `restock_slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`created_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "mail_state" CHECK("mail"."state" in ('queued', 'sent', 'failed'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `mail_uid_unique` ON `mail` (`uid`);--> statement-breakpoint
CREATE INDEX `mail_due` ON `mail` (`state`,`next_at`);--> statement-breakpoint
CREATE INDEX `mail_restock` ON `mail` (`restock_id`);