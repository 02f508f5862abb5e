CREATE TABLE `sheet` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`place_id` integer NOT NULL,
	`blind` integer NOT NULL,
	`extra` integer NOT NULL,
	`pages` integer NOT NULL,
	`printed_at` integer NOT NULL,
	`printed_by` integer NOT NULL,
	`slip_id` integer,
	`void_at` integer,
	`newer_id` integer,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`printed_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`newer_id`) REFERENCES `sheet`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `sheet_uid_unique` ON `sheet` (`uid`);--> statement-breakpoint
CREATE INDEX `sheet_place` ON `sheet` (`place_id`);--> statement-breakpoint
CREATE INDEX `sheet_slip` ON `sheet` (`slip_id`);--> statement-breakpoint
CREATE TABLE `sheet_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`sheet_id` integer NOT NULL,
	`position` integer NOT NULL,
	`page` integer NOT NULL,
	`item_id` integer NOT NULL,
	`lot_id` integer,
	`place_id` integer NOT NULL,
	`expected` integer NOT NULL,
	FOREIGN KEY (`sheet_id`) REFERENCES `sheet`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `sheet_line_uid_unique` ON `sheet_line` (`uid`);--> statement-breakpoint
CREATE INDEX `sheet_line_sheet` ON `sheet_line` (`sheet_id`,`position`);