CREATE TABLE `restock_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`slip_id` integer NOT NULL,
	`position` integer NOT NULL,
	`item_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`typed` text NOT NULL,
	`unit` text,
	`quantity` integer NOT NULL,
	`why` text NOT NULL,
	FOREIGN KEY (`slip_id`) REFERENCES `restock_slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "restock_line_quantity" CHECK("restock_line"."quantity" >= 0)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `restock_line_uid_unique` ON `restock_line` (`uid`);--> statement-breakpoint
CREATE INDEX `restock_line_slip` ON `restock_line` (`slip_id`);--> statement-breakpoint
CREATE INDEX `restock_line_item` ON `restock_line` (`item_id`);--> statement-breakpoint
CREATE TABLE `restock_slip` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`source` text NOT NULL,
	`source_id` integer,
	`state` text NOT NULL,
	`revision` integer NOT NULL,
	`created_at` integer NOT NULL,
	`created_by` integer NOT NULL,
	`asked_at` integer,
	`asked_by` integer,
	`asked_where` text NOT NULL,
	`their_number` text NOT NULL,
	`expected` text,
	`note` text NOT NULL,
	`move_id` integer,
	FOREIGN KEY (`source_id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`created_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`asked_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`move_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "restock_source" CHECK("restock_slip"."source" in ('shelves', 'supplier', 'nobody')),
	CONSTRAINT "restock_state" CHECK("restock_slip"."state" in ('open', 'asked', 'dropped'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `restock_slip_uid_unique` ON `restock_slip` (`uid`);--> statement-breakpoint
CREATE INDEX `restock_by_state` ON `restock_slip` (`state`);