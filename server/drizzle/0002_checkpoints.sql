CREATE TABLE `checkpoint` (
	`id` integer PRIMARY KEY NOT NULL,
	`seq` integer NOT NULL,
	`latest_effective_at` integer NOT NULL,
	`made_at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `checkpoint_seq_unique` ON `checkpoint` (`seq`);--> statement-breakpoint
CREATE TABLE `checkpoint_balance` (
	`checkpoint_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`lot_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	FOREIGN KEY (`checkpoint_id`) REFERENCES `checkpoint`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `checkpoint_balance_of` ON `checkpoint_balance` (`checkpoint_id`);--> statement-breakpoint
CREATE TABLE `checkpoint_pool` (
	`checkpoint_id` integer NOT NULL,
	`pool_id` integer NOT NULL,
	`value` integer NOT NULL,
	FOREIGN KEY (`checkpoint_id`) REFERENCES `checkpoint`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `checkpoint_pool_of` ON `checkpoint_pool` (`checkpoint_id`);--> statement-breakpoint
DROP INDEX `movement_item`;--> statement-breakpoint
CREATE INDEX `movement_line` ON `movement` (`line_id`);--> statement-breakpoint
CREATE INDEX `movement_reverses` ON `movement` (`reverses`) WHERE "movement"."reverses" is not null;--> statement-breakpoint
CREATE INDEX `movement_late` ON `movement` (`seq`,`effective_at`) WHERE "movement"."booked_at" - "movement"."effective_at" > 86400000;--> statement-breakpoint
CREATE INDEX `movement_item` ON `movement` (`item_id`,`effective_at`,`seq`);--> statement-breakpoint
DROP INDEX `slip_booked_at`;--> statement-breakpoint
CREATE INDEX `slip_at` ON `slip` (coalesce(`booked_at`, `saved_at`),`id`);--> statement-breakpoint
CREATE INDEX `slip_last_seq` ON `slip` (`last_seq`) WHERE "slip"."last_seq" is not null;--> statement-breakpoint
CREATE INDEX `slip_booked_at` ON `slip` (`booked_at`,`last_seq`);--> statement-breakpoint
CREATE INDEX `tally_line` ON `tally` (`line_id`);