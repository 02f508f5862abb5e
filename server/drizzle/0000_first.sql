-- The schema, number 2 (`user_version`). Made by drizzle-kit from the rooms' tables.ts; added by hand: STRICT, WITHOUT ROWID,
-- references that a lower room cannot name (of accounts, codes, mail), what must not change, and the search over slips.
CREATE TABLE `account` (
	`id` integer PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`code` text,
	`job_id` integer,
	`cost_centre_id` integer,
	FOREIGN KEY (`cost_centre_id`) REFERENCES `cost_centre`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "account_kind" CHECK("account"."kind" in ('place', 'stock', 'supplier', 'used', 'made', 'relabel', 'waste', 'difference', 'loss', 'gain', 'price_difference', 'opening'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `account_used` ON `account` (`job_id`,`cost_centre_id`) WHERE "account"."kind" = 'used';--> statement-breakpoint
CREATE INDEX `account_by_kind` ON `account` (`kind`);--> statement-breakpoint
CREATE TABLE `category` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`name` text NOT NULL,
	`parent_id` integer,
	`unit` text,
	`decimals` integer,
	`identified_by` text,
	`method` text,
	`shelf_life_days` integer,
	`days_once_opened` integer,
	`active` integer NOT NULL,
	`revision` integer NOT NULL,
	FOREIGN KEY (`parent_id`) REFERENCES `category`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "category_identified" CHECK("category"."identified_by" is null or "category"."identified_by" in ('quantity', 'lot', 'lot_expiry', 'serial')),
	CONSTRAINT "category_method" CHECK("category"."method" is null or "category"."method" in ('average', 'fifo', 'lot', 'standard'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `category_uid_unique` ON `category` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `category_name` ON `category` (`parent_id`,`name`);--> statement-breakpoint
CREATE TABLE `item` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`category_id` integer,
	`unit` text NOT NULL,
	`decimals` integer NOT NULL,
	`identified_by` text NOT NULL,
	`kept` text NOT NULL,
	`method` text,
	`shelf_life_days` integer,
	`days_once_opened` integer,
	`density_n` integer,
	`density_d` integer,
	`mass` integer,
	`waste_code` text NOT NULL,
	`witnessed` integer NOT NULL,
	`note` text NOT NULL,
	`active` integer NOT NULL,
	`revision` integer NOT NULL,
	`successor_of` integer,
	`found_by` integer,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`category_id`) REFERENCES `category`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`successor_of`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`found_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "item_decimals" CHECK("item"."decimals" between 0 and 6),
	CONSTRAINT "item_identified" CHECK("item"."identified_by" in ('quantity', 'lot', 'lot_expiry', 'serial')),
	CONSTRAINT "item_kept" CHECK("item"."kept" in ('stock', 'bought_for', 'charge')),
	CONSTRAINT "item_method" CHECK("item"."method" is null or "item"."method" in ('average', 'fifo', 'lot', 'standard'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `item_uid_unique` ON `item` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `item_code_unique` ON `item` (`code`);--> statement-breakpoint
CREATE INDEX `item_category` ON `item` (`category_id`);--> statement-breakpoint
CREATE TABLE `lot` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`item_id` integer NOT NULL,
	`code` text,
	`expiry` text,
	`parent_id` integer,
	`received_at` integer NOT NULL,
	`opened_at` integer,
	`tare` integer,
	`held` text NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`parent_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "lot_held" CHECK("lot"."held" in ('usable', 'held', 'recalled'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `lot_uid_unique` ON `lot` (`uid`);--> statement-breakpoint
CREATE INDEX `lot_code_upper` ON `lot` (upper("code"));--> statement-breakpoint
CREATE INDEX `lot_parent` ON `lot` (`parent_id`) WHERE "lot"."parent_id" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX `lot_code` ON `lot` (`item_id`, ifnull(`code`, ''), ifnull(`parent_id`, 0));--> statement-breakpoint
CREATE TABLE `lot_state` (
	`lot_id` integer NOT NULL,
	`held` text NOT NULL,
	`since` integer NOT NULL,
	`by_id` integer NOT NULL,
	`why` text NOT NULL,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `lot_state_lot` ON `lot_state` (`lot_id`);--> statement-breakpoint
CREATE TABLE `pack` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`item_id` integer NOT NULL,
	`name` text NOT NULL,
	`size_n` integer NOT NULL,
	`size_d` integer NOT NULL,
	`buying` integer NOT NULL,
	`issuing` integer NOT NULL,
	`counting` integer NOT NULL,
	`retired_at` integer,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "pack_size" CHECK("pack"."size_n" > 0 and "pack"."size_d" > 0)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `pack_uid_unique` ON `pack` (`uid`);--> statement-breakpoint
CREATE INDEX `pack_item` ON `pack` (`item_id`);--> statement-breakpoint
CREATE TABLE `code` (
	`normal` text PRIMARY KEY NOT NULL,
	`scanned` text NOT NULL,
	`kind` text NOT NULL,
	`item_id` integer,
	`pack_id` integer,
	`lot_id` integer,
	`place_id` integer,
	`person_id` integer,
	`job_id` integer,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`pack_id`) REFERENCES `pack`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "code_kind" CHECK("code"."kind" in ('item', 'pack', 'lot', 'place', 'person', 'job'))
) STRICT;
--> statement-breakpoint
CREATE INDEX `code_item` ON `code` (`item_id`);--> statement-breakpoint
CREATE TABLE `budget` (
	`cost_centre_id` integer NOT NULL,
	`year` integer NOT NULL,
	`amount` integer NOT NULL,
	`warn_percent` integer,
	`stop_percent` integer,
	PRIMARY KEY(`cost_centre_id`, `year`),
	FOREIGN KEY (`cost_centre_id`) REFERENCES `cost_centre`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "budget_percent" CHECK(ifnull("budget"."warn_percent", 1) between 1 and 1000 and ifnull("budget"."stop_percent", 1) between 1 and 1000)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `cost_centre` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`active` integer NOT NULL,
	`usual_id` integer,
	FOREIGN KEY (`usual_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `cost_centre_uid_unique` ON `cost_centre` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `cost_centre_code_unique` ON `cost_centre` (`code`);--> statement-breakpoint
CREATE TABLE `job` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`cost_centre_id` integer,
	`state` text NOT NULL,
	FOREIGN KEY (`cost_centre_id`) REFERENCES `cost_centre`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "job_state" CHECK("job"."state" in ('planned', 'picking', 'in_work', 'done', 'dropped', 'standing'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `job_uid_unique` ON `job` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `job_code_unique` ON `job` (`code`);--> statement-breakpoint
CREATE TABLE `closed_area` (
	`place_id` integer PRIMARY KEY NOT NULL,
	`since` integer NOT NULL,
	`closed_by` integer NOT NULL,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`closed_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;--> statement-breakpoint
CREATE TABLE `count_group` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`name` text NOT NULL,
	`place_id` integer NOT NULL,
	`category_id` integer,
	`every_days` integer,
	`active` integer NOT NULL,
	`revision` integer NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`category_id`) REFERENCES `category`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;--> statement-breakpoint
CREATE UNIQUE INDEX `count_group_uid_unique` ON `count_group` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `count_group_name` ON `count_group` (`place_id`,`name`);--> statement-breakpoint
CREATE TABLE `count_group_item` (
	`group_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	PRIMARY KEY(`group_id`, `item_id`),
	FOREIGN KEY (`group_id`) REFERENCES `count_group`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;--> statement-breakpoint
CREATE TABLE `count_done` (
	`id` integer PRIMARY KEY NOT NULL,
	`slip_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`group_id` integer,
	`rest_of` integer,
	`counted_at` integer NOT NULL,
	`left_out` integer NOT NULL,
	`open` integer NOT NULL,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`group_id`) REFERENCES `count_group`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`rest_of`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;--> statement-breakpoint
CREATE INDEX `count_done_slip` ON `count_done` (`slip_id`);--> statement-breakpoint
CREATE INDEX `count_done_of` ON `count_done` (`place_id`,`group_id`,`counted_at`);--> statement-breakpoint
CREATE INDEX `count_done_rest` ON `count_done` (`rest_of`) WHERE "count_done"."rest_of" is not null;--> statement-breakpoint
CREATE TABLE `sheet` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`place_id` integer NOT NULL,
	`group_id` integer,
	`number` integer NOT NULL,
	`first_page` integer NOT NULL,
	`blind` integer NOT NULL,
	`extra` integer NOT NULL,
	`pages` integer NOT NULL,
	`printed_at` integer NOT NULL,
	`printed_by` integer NOT NULL,
	`slip_id` integer,
	`void_at` integer,
	`newer_id` integer,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`group_id`) REFERENCES `count_group`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`printed_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`newer_id`) REFERENCES `sheet`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `sheet_uid_unique` ON `sheet` (`uid`);--> statement-breakpoint
CREATE INDEX `sheet_place` ON `sheet` (`place_id`);--> statement-breakpoint
CREATE INDEX `sheet_slip` ON `sheet` (`slip_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `sheet_number` ON `sheet` (`number`,`first_page`);--> statement-breakpoint
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
CREATE INDEX `sheet_line_sheet` ON `sheet_line` (`sheet_id`,`position`);--> statement-breakpoint
CREATE TABLE `event` (
	`seq` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`kind` text NOT NULL,
	`detail` text NOT NULL,
	`touches` text
) STRICT;
--> statement-breakpoint
CREATE TABLE `organisation` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`zone` text NOT NULL,
	`currency` text NOT NULL,
	`decimal_mark` text NOT NULL,
	`date_order` text NOT NULL,
	`short_rule` text NOT NULL,
	`method` text NOT NULL,
	`tolerance_percent` integer NOT NULL,
	`patience_days` integer NOT NULL,
	`ahead_days` integer NOT NULL,
	`created_at` integer NOT NULL,
	CONSTRAINT "organisation_one" CHECK("organisation"."id" = 1),
	CONSTRAINT "organisation_method" CHECK("organisation"."method" in ('average', 'fifo', 'lot', 'standard')),
	CONSTRAINT "organisation_short" CHECK("organisation"."short_rule" in ('at_or_below', 'below')),
	CONSTRAINT "organisation_patience" CHECK("organisation"."patience_days" between 0 and 365),
	CONSTRAINT "organisation_ahead" CHECK("organisation"."ahead_days" between 0 and 365),
	CONSTRAINT "organisation_mark" CHECK("organisation"."decimal_mark" in ('.', ',')),
	CONSTRAINT "organisation_dates" CHECK("organisation"."date_order" in ('dmy', 'mdy', 'ymd'))
) STRICT;
--> statement-breakpoint
CREATE TABLE `invoice_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`amount` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `invoice_line_uid_unique` ON `invoice_line` (`uid`);--> statement-breakpoint
CREATE TABLE `need` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`job_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`typed` text NOT NULL,
	`unit` text,
	`optional` integer NOT NULL,
	`from_id` integer,
	`note` text NOT NULL,
	`position` integer NOT NULL,
	`revision` integer NOT NULL,
	`saved_by` integer NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`from_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "need_quantity" CHECK("need"."quantity" >= 0)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `need_uid_unique` ON `need` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `need_of` ON `need` (`job_id`,`item_id`);--> statement-breakpoint
CREATE INDEX `need_item` ON `need` (`item_id`);--> statement-breakpoint
CREATE TABLE `order_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `order_line_uid_unique` ON `order_line` (`uid`);--> statement-breakpoint
CREATE TABLE `reservation` (
	`id` integer PRIMARY KEY NOT NULL,
	`need_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`lot_id` integer,
	`quantity` integer NOT NULL,
	`since` integer NOT NULL,
	`made_at` integer NOT NULL,
	`made_by` integer NOT NULL,
	FOREIGN KEY (`need_id`) REFERENCES `need`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`made_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "reservation_quantity" CHECK("reservation"."quantity" > 0)
) STRICT;
--> statement-breakpoint
CREATE INDEX `reservation_need` ON `reservation` (`need_id`);--> statement-breakpoint
CREATE INDEX `reservation_place` ON `reservation` (`place_id`);--> statement-breakpoint
CREATE TABLE `balance` (
	`item_id` integer NOT NULL,
	`lot_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`last_effective_at` integer NOT NULL,
	PRIMARY KEY(`item_id`, `lot_id`, `place_id`),
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `balance_place` ON `balance` (`place_id`,`item_id`);--> statement-breakpoint
CREATE TABLE `charge` (
	`slip_id` integer NOT NULL,
	`by_id` integer NOT NULL,
	`position` integer NOT NULL,
	`label` text NOT NULL,
	`amount` integer NOT NULL,
	`basis` text NOT NULL,
	PRIMARY KEY(`slip_id`, `by_id`, `position`),
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`by_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "charge_basis" CHECK("charge"."basis" in ('value', 'quantity', 'weight'))
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `charge_by` ON `charge` (`by_id`);--> statement-breakpoint
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
	PRIMARY KEY(`checkpoint_id`, `item_id`, `lot_id`, `place_id`),
	FOREIGN KEY (`checkpoint_id`) REFERENCES `checkpoint`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `checkpoint_pool` (
	`checkpoint_id` integer NOT NULL,
	`pool_id` integer NOT NULL,
	`value` integer NOT NULL,
	PRIMARY KEY(`checkpoint_id`, `pool_id`),
	FOREIGN KEY (`checkpoint_id`) REFERENCES `checkpoint`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `counter` (
	`kind` text PRIMARY KEY NOT NULL,
	`next` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `layer` (
	`pool_id` integer NOT NULL,
	`cost_seq` integer NOT NULL,
	`part` integer NOT NULL,
	`quantity` integer NOT NULL,
	`value` integer NOT NULL,
	PRIMARY KEY(`pool_id`, `cost_seq`, `part`),
	FOREIGN KEY (`pool_id`) REFERENCES `pool`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `unpriced` (
	`pool_id` integer NOT NULL,
	`cost_seq` integer NOT NULL,
	`part` integer NOT NULL,
	PRIMARY KEY(`pool_id`, `cost_seq`, `part`),
	FOREIGN KEY (`pool_id`) REFERENCES `pool`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `month` (
	`name` text PRIMARY KEY NOT NULL,
	`starts_at` integer NOT NULL,
	`ends_at` integer NOT NULL,
	`last_seq` integer NOT NULL,
	`head_hash` text NOT NULL,
	`closed_at` integer NOT NULL,
	`closed_by` integer NOT NULL,
	FOREIGN KEY (`closed_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE TABLE `movement` (
	`seq` integer PRIMARY KEY NOT NULL,
	`cost_seq` integer NOT NULL,
	`part` integer NOT NULL,
	`ord` integer NOT NULL,
	`kind` text NOT NULL,
	`slip_id` integer NOT NULL,
	`line_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`lot_id` integer NOT NULL,
	`pool_id` integer NOT NULL,
	`from_id` integer NOT NULL,
	`to_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`value` integer NOT NULL,
	`goods` integer,
	`charges` integer NOT NULL,
	`effective_at` integer NOT NULL,
	`booked_at` integer NOT NULL,
	`booked_by` integer NOT NULL,
	`reverses` integer,
	`revalues` integer,
	`ref_cost_seq` integer,
	`ref_part` integer,
	`tally_id` integer,
	`weight` integer,
	`mass` integer,
	`invoice` text,
	`job_id` integer,
	`cost_centre_id` integer,
	`need_id` integer,
	`order_line_id` integer,
	`invoice_line_id` integer,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`line_id`) REFERENCES `slip_line`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`pool_id`) REFERENCES `pool`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`from_id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`to_id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`booked_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`tally_id`) REFERENCES `tally`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`cost_centre_id`) REFERENCES `cost_centre`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`need_id`) REFERENCES `need`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_line_id`) REFERENCES `order_line`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`invoice_line_id`) REFERENCES `invoice_line`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "movement_quantity" CHECK("movement"."quantity" >= 0),
	CONSTRAINT "movement_value" CHECK("movement"."value" >= 0 or "movement"."quantity" = 0),
	CONSTRAINT "movement_kind" CHECK("movement"."kind" in ('receipt', 'direct', 'out', 'return', 'move', 'back', 'difference', 'found', 'close', 'event_out', 'event_in', 'standard', 'recharge', 'spoil')),
	CONSTRAINT "movement_invoice" CHECK("movement"."invoice" in ('more', 'amount')),
	CONSTRAINT "movement_ord" CHECK("movement"."ord" between -1 and 1)
) STRICT;
--> statement-breakpoint
CREATE INDEX `movement_from` ON `movement` (`from_id`,`item_id`,`lot_id`,`effective_at`,`seq`);--> statement-breakpoint
CREATE INDEX `movement_into` ON `movement` (`to_id`,`item_id`,`lot_id`,`effective_at`,`seq`) WHERE (kind not in ('out', 'direct') or reverses is not null);--> statement-breakpoint
CREATE INDEX `movement_item` ON `movement` (`item_id`,`effective_at`,`seq`,`pool_id`);--> statement-breakpoint
CREATE INDEX `movement_cost` ON `movement` (`cost_seq`);--> statement-breakpoint
CREATE INDEX `movement_slip` ON `movement` (`slip_id`);--> statement-breakpoint
CREATE INDEX `movement_line` ON `movement` (`line_id`);--> statement-breakpoint
CREATE INDEX `movement_ref` ON `movement` (`ref_cost_seq`,`ref_part`) WHERE "movement"."ref_cost_seq" is not null;--> statement-breakpoint
CREATE INDEX `movement_tally` ON `movement` (`tally_id`) WHERE "movement"."tally_id" is not null;--> statement-breakpoint
CREATE INDEX `movement_need` ON `movement` (`need_id`) WHERE "movement"."need_id" is not null;--> statement-breakpoint
CREATE INDEX `movement_job` ON `movement` (`job_id`) WHERE "movement"."job_id" is not null;--> statement-breakpoint
CREATE INDEX `movement_event` ON `movement` (`lot_id`,`cost_seq`) WHERE "movement"."kind" in ('event_out', 'event_in');--> statement-breakpoint
CREATE INDEX `movement_reverses` ON `movement` (`reverses`) WHERE "movement"."reverses" is not null;--> statement-breakpoint
CREATE INDEX `movement_unpriced` ON `movement` (`seq`) WHERE "movement"."goods" is null and "movement"."quantity" > 0 and "movement"."reverses" is null and "movement"."kind" in ('receipt', 'direct');--> statement-breakpoint
CREATE INDEX `movement_late` ON `movement` (`seq`,`effective_at`) WHERE "movement"."booked_at" - "movement"."effective_at" > 86400000;--> statement-breakpoint
CREATE TABLE `pool` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`lot_id` integer,
	`method` text NOT NULL,
	`first_standard` integer NOT NULL,
	`current` integer NOT NULL,
	`quantity` integer NOT NULL,
	`value` integer NOT NULL,
	`standard` integer NOT NULL,
	`last_out_value` integer,
	`last_out_quantity` integer,
	`last_receipt_value` integer,
	`last_receipt_quantity` integer,
	`tainted` integer NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "pool_method" CHECK("pool"."method" in ('average', 'fifo', 'lot', 'standard'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `pool_current` ON `pool` (`item_id`, ifnull(`lot_id`, 0)) WHERE `current` = 1;--> statement-breakpoint
CREATE TABLE `sealed_bytes` (
	`slip_id` integer PRIMARY KEY NOT NULL,
	`bytes` blob NOT NULL,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE TABLE `slip` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`kind` text NOT NULL,
	`state` text NOT NULL,
	`number` text,
	`revision` integer NOT NULL,
	`version` integer NOT NULL,
	`place_id` integer,
	`effective_at` integer,
	`created_at` integer NOT NULL,
	`created_by` integer NOT NULL,
	`saved_at` integer NOT NULL,
	`saved_by` integer NOT NULL,
	`booked_at` integer,
	`booked_by` integer,
	`witness_id` integer,
	`taker` text NOT NULL,
	`title` text NOT NULL,
	`head` text NOT NULL,
	`corrects_id` integer,
	`job_id` integer,
	`request_hash` text,
	`first_seq` integer,
	`last_seq` integer,
	`chain_version` integer,
	`hash` text,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`created_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`booked_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`witness_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`corrects_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "slip_kind" CHECK("slip"."kind" in ('opening', 'receipt', 'issue', 'bring_back', 'move', 'dispatch', 'arrival', 'waste', 'count', 'adjustment', 'relabel', 'make', 'supplier_return', 'correction', 'revaluation', 'closing', 'method_change', 'recharge')),
	CONSTRAINT "slip_state" CHECK("slip"."state" in ('draft', 'booked')),
	CONSTRAINT "slip_booked" CHECK(("slip"."state" = 'booked') = ("slip"."hash" is not null))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `slip_uid_unique` ON `slip` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `slip_number_unique` ON `slip` (`number`);--> statement-breakpoint
CREATE INDEX `slip_booked_at` ON `slip` (`booked_at`,`last_seq`);--> statement-breakpoint
CREATE INDEX `slip_at` ON `slip` (coalesce(`booked_at`, `saved_at`), `id`);--> statement-breakpoint
CREATE INDEX `slip_last_seq` ON `slip` (`last_seq`) WHERE "slip"."last_seq" is not null;--> statement-breakpoint
CREATE INDEX `slip_state_by` ON `slip` (`state`,`created_by`);--> statement-breakpoint
CREATE INDEX `slip_corrects` ON `slip` (`corrects_id`);--> statement-breakpoint
CREATE INDEX `slip_job` ON `slip` (`job_id`) WHERE "slip"."job_id" is not null;--> statement-breakpoint
CREATE TABLE `slip_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`slip_id` integer NOT NULL,
	`position` integer NOT NULL,
	`revision` integer NOT NULL,
	`saved_by` integer NOT NULL,
	`content` text NOT NULL,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `slip_line_uid_unique` ON `slip_line` (`uid`);--> statement-breakpoint
CREATE INDEX `slip_line_slip` ON `slip_line` (`slip_id`,`position`);--> statement-breakpoint
CREATE TABLE `tally` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`slip_id` integer NOT NULL,
	`line_id` integer NOT NULL,
	`cost_seq` integer NOT NULL,
	`part` integer NOT NULL,
	`item_id` integer NOT NULL,
	`lot_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`counted_at` integer NOT NULL,
	`counted` integer NOT NULL,
	`expected` integer NOT NULL,
	`confirmed` integer NOT NULL,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`line_id`) REFERENCES `slip_line`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`lot_id`) REFERENCES `lot`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `tally_uid_unique` ON `tally` (`uid`);--> statement-breakpoint
CREATE INDEX `tally_cell` ON `tally` (`item_id`,`lot_id`,`place_id`,`counted_at`);--> statement-breakpoint
CREATE INDEX `tally_line` ON `tally` (`line_id`);--> statement-breakpoint
CREATE INDEX `tally_slip` ON `tally` (`slip_id`);--> statement-breakpoint
CREATE INDEX `tally_cost` ON `tally` (`cost_seq`);--> statement-breakpoint
CREATE TABLE `tally_reversal` (
	`tally_id` integer PRIMARY KEY NOT NULL,
	`slip_id` integer NOT NULL,
	FOREIGN KEY (`tally_id`) REFERENCES `tally`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `tally_reversal_slip` ON `tally_reversal` (`slip_id`);--> statement-breakpoint
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
CREATE INDEX `mail_restock` ON `mail` (`restock_id`);--> statement-breakpoint
CREATE TABLE `taken_off` (
	`uid` text PRIMARY KEY NOT NULL,
	`slip_id` integer NOT NULL,
	`revision` integer NOT NULL,
	`saved_by` integer NOT NULL,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `taken_off_slip` ON `taken_off` (`slip_id`);--> statement-breakpoint
CREATE TABLE `witness` (
	`slip_uid` text PRIMARY KEY NOT NULL,
	`person_id` integer NOT NULL,
	`request_hash` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
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
CREATE INDEX `picture_hash` ON `picture` (`hash`);--> statement-breakpoint
CREATE TABLE `audit` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`by_id` integer,
	`what` text NOT NULL,
	`subject` text NOT NULL,
	`before` text NOT NULL,
	`after` text NOT NULL,
	`address` text NOT NULL,
	`device` text NOT NULL,
	FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "audit_what" CHECK("audit"."what" in ('begun', 'person_added', 'person_renamed', 'person_out_of_use', 'person_in_use', 'roles', 'password_reset', 'password', 'pin', 'badge', 'signed_out', 'setting', 'account_code', 'month_closed', 'sign_in_refused', 'hands_refused'))
) STRICT;
--> statement-breakpoint
CREATE TABLE `grant` (
	`person_id` integer NOT NULL,
	`role` text NOT NULL,
	`place_id` integer,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "grant_role" CHECK("grant"."role" in ('manager', 'keeper', 'buyer', 'requester', 'observer'))
) STRICT;
--> statement-breakpoint
CREATE INDEX `grant_person` ON `grant` (`person_id`);--> statement-breakpoint
CREATE TABLE `person` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`name` text NOT NULL,
	`sign_in` text NOT NULL,
	`password_hash` text NOT NULL,
	`active` integer NOT NULL,
	`created_at` integer NOT NULL,
	`pin_hash` text,
	`pin_wrong` integer DEFAULT 0 NOT NULL,
	`revision` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `person_uid_unique` ON `person` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `person_signIn_unique` ON `person` (`sign_in`);--> statement-breakpoint
CREATE TABLE `preference` (
	`person_id` integer NOT NULL,
	`name` text NOT NULL,
	`value` text NOT NULL,
	PRIMARY KEY(`person_id`, `name`),
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `session` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`uid` text DEFAULT '' NOT NULL,
	`device` text DEFAULT '' NOT NULL,
	`person_id` integer NOT NULL,
	`created_at` integer NOT NULL,
	`seen_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	`strong` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE TABLE `place` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`parent_id` integer,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`walk` integer NOT NULL,
	`active` integer NOT NULL,
	`revision` integer NOT NULL,
	`count_every_days` integer,
	`open_shelf` integer NOT NULL,
	FOREIGN KEY (`id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`parent_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "place_kind" CHECK("place"."kind" in ('premises', 'area', 'bin', 'held', 'transit', 'with_job'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `place_uid_unique` ON `place` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `place_name` ON `place` (`parent_id`,`name`);--> statement-breakpoint
CREATE TABLE `place_within` (
	`ancestor_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	PRIMARY KEY(`ancestor_id`, `place_id`),
	FOREIGN KEY (`ancestor_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `place_within_place` ON `place_within` (`place_id`);--> statement-breakpoint
CREATE TABLE `transit` (
	`place_id` integer PRIMARY KEY NOT NULL,
	`slip_id` integer NOT NULL,
	`from_id` integer NOT NULL,
	`to_id` integer NOT NULL,
	`due_on` text,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`from_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`to_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `transit_slipId_unique` ON `transit` (`slip_id`);--> statement-breakpoint
CREATE TABLE `level` (
	`item_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`minimum` integer,
	`target` integer,
	`bin_id` integer,
	PRIMARY KEY(`item_id`, `place_id`),
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`bin_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `level_place` ON `level` (`place_id`);--> statement-breakpoint
CREATE TABLE `exported` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`person_id` integer NOT NULL,
	`what` text NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE TABLE `account_code` (
	`kind` text NOT NULL,
	`ref_id` integer NOT NULL,
	`code` text NOT NULL,
	PRIMARY KEY(`kind`, `ref_id`)
) STRICT;
--> statement-breakpoint
CREATE TABLE `restock_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`slip_id` integer NOT NULL,
	`position` integer NOT NULL,
	`revision` integer NOT NULL,
	`saved_by` integer NOT NULL,
	`item_id` integer NOT NULL,
	`place_id` integer NOT NULL,
	`typed` text NOT NULL,
	`unit` text,
	`quantity` integer NOT NULL,
	`why` text NOT NULL,
	`cancelled_at` integer,
	`cancelled_by` integer,
	`cancelled_why` text DEFAULT '' NOT NULL,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`cancelled_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
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
	`number` text NOT NULL,
	`source` text NOT NULL,
	`source_id` integer,
	`state` text NOT NULL,
	`revision` integer NOT NULL,
	`version` integer NOT NULL,
	`saved_by` integer NOT NULL,
	`created_at` integer NOT NULL,
	`created_by` integer NOT NULL,
	`handed_at` integer,
	`handed_by` integer,
	`back_at` integer,
	`back_by` integer,
	`back_why` text DEFAULT '' NOT NULL,
	`asked_at` integer,
	`asked_by` integer,
	`asked_where` text NOT NULL,
	`their_number` text NOT NULL,
	`expected` text,
	`note` text NOT NULL,
	`move_id` integer,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`source_id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`created_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`handed_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`back_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`asked_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`move_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "restock_source" CHECK("restock_slip"."source" in ('shelves', 'supplier', 'nobody')),
	CONSTRAINT "restock_state" CHECK("restock_slip"."state" in ('open', 'asked', 'dropped'))
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `restock_slip_uid_unique` ON `restock_slip` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `restock_slip_number_unique` ON `restock_slip` (`number`);--> statement-breakpoint
CREATE INDEX `restock_by_state` ON `restock_slip` (`state`);--> statement-breakpoint
CREATE TABLE `restock_taken_off` (
	`uid` text PRIMARY KEY NOT NULL,
	`slip_id` integer NOT NULL,
	`revision` integer NOT NULL,
	`saved_by` integer NOT NULL,
	FOREIGN KEY (`slip_id`) REFERENCES `restock_slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `restock_taken_off_slip` ON `restock_taken_off` (`slip_id`);--> statement-breakpoint
CREATE TABLE `template` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`output_id` integer,
	`active` integer NOT NULL,
	`version` integer NOT NULL,
	FOREIGN KEY (`output_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `template_uid_unique` ON `template` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `template_code_unique` ON `template` (`code`);--> statement-breakpoint
CREATE UNIQUE INDEX `template_makes` ON `template` (`output_id`) WHERE "template"."active" = 1 and "template"."output_id" is not null;--> statement-breakpoint
CREATE TABLE `template_version` (
	`template_id` integer NOT NULL,
	`version` integer NOT NULL,
	`content` text NOT NULL,
	`saved_at` integer NOT NULL,
	`saved_by` integer NOT NULL,
	PRIMARY KEY(`template_id`, `version`),
	FOREIGN KEY (`template_id`) REFERENCES `template`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `template_version_by` ON `template_version` (`saved_by`);--> statement-breakpoint
CREATE TABLE `template_beside` (
	`template_id` integer NOT NULL,
	`version` integer NOT NULL,
	`item_id` integer NOT NULL,
	PRIMARY KEY(`template_id`, `version`, `item_id`),
	FOREIGN KEY (`template_id`) REFERENCES `template`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `template_beside_item` ON `template_beside` (`item_id`);--> statement-breakpoint
CREATE TABLE `job_plan` (
	`job_id` integer PRIMARY KEY NOT NULL,
	`place_id` integer NOT NULL,
	`day` text,
	`time` text NOT NULL,
	`person_id` integer,
	`reference` text NOT NULL,
	`note` text NOT NULL,
	`template_id` integer,
	`template_version` integer,
	`typed` text NOT NULL,
	`unit` text,
	`wanted` integer NOT NULL,
	`output_id` integer,
	`parent_id` integer,
	`repeats` text NOT NULL,
	`again` integer,
	`follows_id` integer,
	`revision` integer NOT NULL,
	`version` integer NOT NULL,
	`saved_by` integer NOT NULL,
	`created_at` integer NOT NULL,
	`created_by` integer NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`template_id`) REFERENCES `template`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`output_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`parent_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`follows_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`created_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "job_plan_wanted" CHECK("job_plan"."wanted" >= 0)
) STRICT;--> statement-breakpoint
CREATE UNIQUE INDEX `job_plan_reference` ON `job_plan` (`reference`) WHERE "job_plan"."reference" <> '';--> statement-breakpoint
CREATE INDEX `job_plan_output` ON `job_plan` (`output_id`) WHERE "job_plan"."output_id" is not null;--> statement-breakpoint
CREATE INDEX `job_plan_parent` ON `job_plan` (`parent_id`) WHERE "job_plan"."parent_id" is not null;--> statement-breakpoint
CREATE INDEX `job_plan_place` ON `job_plan` (`place_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `job_plan_follows` ON `job_plan` (`follows_id`) WHERE "job_plan"."follows_id" is not null;--> statement-breakpoint
CREATE TABLE `job_with` (
	`place_id` integer PRIMARY KEY NOT NULL,
	`job_id` integer NOT NULL,
	FOREIGN KEY (`place_id`) REFERENCES `place`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;--> statement-breakpoint
CREATE INDEX `job_with_job` ON `job_with` (`job_id`);--> statement-breakpoint
CREATE TABLE `pick_ready` (
	`slip_id` integer PRIMARY KEY NOT NULL,
	`fetched_by` text,
	`fetched_at` integer,
	`said_by` integer,
	FOREIGN KEY (`slip_id`) REFERENCES `slip`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`said_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;--> statement-breakpoint
CREATE INDEX `pick_ready_open` ON `pick_ready` (`slip_id`) WHERE "pick_ready"."fetched_at" is null;--> statement-breakpoint
CREATE TABLE `need_taken_off` (
	`uid` text PRIMARY KEY NOT NULL,
	`job_id` integer NOT NULL,
	`revision` integer NOT NULL,
	`saved_by` integer NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `job`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`saved_by`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;--> statement-breakpoint
CREATE INDEX `need_taken_off_job` ON `need_taken_off` (`job_id`);--> statement-breakpoint
CREATE TABLE `supplier` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`name` text NOT NULL,
	`active` integer NOT NULL,
	FOREIGN KEY (`id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `supplier_uid_unique` ON `supplier` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `supplier_name_unique` ON `supplier` (`name`);--> statement-breakpoint
CREATE TABLE `waste_reason` (
	`id` integer PRIMARY KEY NOT NULL,
	`uid` text NOT NULL,
	`name` text NOT NULL,
	`active` integer NOT NULL,
	FOREIGN KEY (`id`) REFERENCES `account`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `waste_reason_uid_unique` ON `waste_reason` (`uid`);--> statement-breakpoint
CREATE UNIQUE INDEX `waste_reason_name_unique` ON `waste_reason` (`name`);--> statement-breakpoint
CREATE TRIGGER movement_no_update BEFORE UPDATE ON movement BEGIN SELECT RAISE(ABORT, 'movements are never changed'); END;--> statement-breakpoint
CREATE TRIGGER movement_no_delete BEFORE DELETE ON movement BEGIN SELECT RAISE(ABORT, 'movements are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER movement_no_replace BEFORE INSERT ON movement WHEN EXISTS (SELECT 1 FROM movement WHERE seq = new.seq) BEGIN SELECT RAISE(ABORT, 'movements are never replaced'); END;--> statement-breakpoint
CREATE TRIGGER sealed_bytes_no_update BEFORE UPDATE ON sealed_bytes BEGIN SELECT RAISE(ABORT, 'sealed bytes are never changed'); END;--> statement-breakpoint
CREATE TRIGGER sealed_bytes_no_delete BEFORE DELETE ON sealed_bytes BEGIN SELECT RAISE(ABORT, 'sealed bytes are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER sealed_bytes_no_replace BEFORE INSERT ON sealed_bytes WHEN EXISTS (SELECT 1 FROM sealed_bytes WHERE slip_id = new.slip_id) BEGIN SELECT RAISE(ABORT, 'sealed bytes are never replaced'); END;--> statement-breakpoint
CREATE TRIGGER charge_no_update BEFORE UPDATE ON charge BEGIN SELECT RAISE(ABORT, 'charges are never changed'); END;--> statement-breakpoint
CREATE TRIGGER charge_no_delete BEFORE DELETE ON charge BEGIN SELECT RAISE(ABORT, 'charges are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER charge_no_replace BEFORE INSERT ON charge WHEN EXISTS (SELECT 1 FROM charge WHERE slip_id = new.slip_id AND by_id = new.by_id AND position = new.position) BEGIN SELECT RAISE(ABORT, 'charges are never replaced'); END;--> statement-breakpoint
CREATE TRIGGER tally_no_update BEFORE UPDATE ON tally BEGIN SELECT RAISE(ABORT, 'tallies are never changed'); END;--> statement-breakpoint
CREATE TRIGGER tally_no_delete BEFORE DELETE ON tally BEGIN SELECT RAISE(ABORT, 'tallies are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER tally_no_replace BEFORE INSERT ON tally WHEN EXISTS (SELECT 1 FROM tally WHERE id = new.id OR uid = new.uid) BEGIN SELECT RAISE(ABORT, 'tallies are never replaced'); END;--> statement-breakpoint
CREATE TRIGGER tally_reversal_no_update BEFORE UPDATE ON tally_reversal BEGIN SELECT RAISE(ABORT, 'reversals are never changed'); END;--> statement-breakpoint
CREATE TRIGGER tally_reversal_no_delete BEFORE DELETE ON tally_reversal BEGIN SELECT RAISE(ABORT, 'reversals are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER tally_reversal_no_replace BEFORE INSERT ON tally_reversal WHEN EXISTS (SELECT 1 FROM tally_reversal WHERE tally_id = new.tally_id) BEGIN SELECT RAISE(ABORT, 'reversals are never replaced'); END;--> statement-breakpoint
CREATE TRIGGER month_no_update BEFORE UPDATE ON month BEGIN SELECT RAISE(ABORT, 'closed months are never changed'); END;--> statement-breakpoint
CREATE TRIGGER month_no_delete BEFORE DELETE ON month BEGIN SELECT RAISE(ABORT, 'closed months are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER month_no_replace BEFORE INSERT ON month WHEN EXISTS (SELECT 1 FROM month WHERE name = new.name) BEGIN SELECT RAISE(ABORT, 'closed months are never replaced'); END;--> statement-breakpoint
CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'what was noted is never changed'); END;--> statement-breakpoint
CREATE TRIGGER audit_no_delete BEFORE DELETE ON audit BEGIN SELECT RAISE(ABORT, 'what was noted is never deleted'); END;--> statement-breakpoint
CREATE TRIGGER audit_no_replace BEFORE INSERT ON audit WHEN EXISTS (SELECT 1 FROM audit WHERE id = new.id) BEGIN SELECT RAISE(ABORT, 'what was noted is never replaced'); END;--> statement-breakpoint
CREATE TRIGGER template_version_no_update BEFORE UPDATE ON template_version BEGIN SELECT RAISE(ABORT, 'versions of a template are never changed'); END;--> statement-breakpoint
CREATE TRIGGER template_version_no_delete BEFORE DELETE ON template_version BEGIN SELECT RAISE(ABORT, 'versions of a template are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER template_version_no_replace BEFORE INSERT ON template_version WHEN EXISTS (SELECT 1 FROM template_version WHERE template_id = new.template_id AND version = new.version) BEGIN SELECT RAISE(ABORT, 'versions of a template are never replaced'); END;--> statement-breakpoint
CREATE TRIGGER slip_booked_stays BEFORE UPDATE ON slip WHEN old.state = 'booked' BEGIN SELECT RAISE(ABORT, 'a booked slip is never changed'); END;--> statement-breakpoint
CREATE TRIGGER slip_booked_no_delete BEFORE DELETE ON slip WHEN old.state = 'booked' BEGIN SELECT RAISE(ABORT, 'a booked slip is never deleted'); END;--> statement-breakpoint
CREATE TRIGGER slip_booked_no_replace BEFORE INSERT ON slip WHEN EXISTS (SELECT 1 FROM slip WHERE (id = new.id OR uid = new.uid OR number = new.number) AND +state = 'booked') BEGIN SELECT RAISE(ABORT, 'a booked slip is never replaced'); END;--> statement-breakpoint
CREATE TRIGGER slip_booked_no_take BEFORE UPDATE OF id, uid, number ON slip WHEN EXISTS (SELECT 1 FROM slip WHERE (id = new.id OR uid = new.uid OR number = new.number) AND +state = 'booked' AND id <> old.id) BEGIN SELECT RAISE(ABORT, 'a booked slip is never replaced'); END;--> statement-breakpoint
CREATE TRIGGER slip_line_booked_stays BEFORE UPDATE ON slip_line WHEN (SELECT state FROM slip WHERE id = old.slip_id) = 'booked' OR (SELECT state FROM slip WHERE id = new.slip_id) = 'booked' BEGIN SELECT RAISE(ABORT, 'a line of a booked slip is never changed'); END;--> statement-breakpoint
CREATE TRIGGER slip_line_booked_no_take BEFORE UPDATE OF id, uid ON slip_line WHEN EXISTS (SELECT 1 FROM slip_line l JOIN slip s ON s.id = l.slip_id WHERE (l.id = new.id OR l.uid = new.uid) AND s.state = 'booked' AND l.id <> old.id) BEGIN SELECT RAISE(ABORT, 'a line of a booked slip is never replaced'); END;--> statement-breakpoint
CREATE TRIGGER slip_line_booked_no_delete BEFORE DELETE ON slip_line WHEN (SELECT state FROM slip WHERE id = old.slip_id) = 'booked' BEGIN SELECT RAISE(ABORT, 'a line of a booked slip is never deleted'); END;--> statement-breakpoint
CREATE TRIGGER slip_line_booked_no_replace BEFORE INSERT ON slip_line WHEN (SELECT state FROM slip WHERE id = new.slip_id) = 'booked' OR EXISTS (SELECT 1 FROM slip_line l JOIN slip s ON s.id = l.slip_id WHERE (l.id = new.id OR l.uid = new.uid) AND s.state = 'booked') BEGIN SELECT RAISE(ABORT, 'a line of a booked slip is never replaced, and none is added'); END;--> statement-breakpoint
CREATE TRIGGER pack_stays BEFORE UPDATE OF item_id, name, size_n, size_d ON pack BEGIN SELECT RAISE(ABORT, 'a pack is never changed: retire it and make a new one'); END;--> statement-breakpoint
CREATE TRIGGER item_unit_stays BEFORE UPDATE OF unit ON item WHEN old.unit <> new.unit AND EXISTS (SELECT 1 FROM movement WHERE item_id = old.id) BEGIN SELECT RAISE(ABORT, 'the base unit is frozen at the first movement'); END;--> statement-breakpoint
CREATE TRIGGER currency_stays BEFORE UPDATE OF currency ON organisation WHEN old.currency <> new.currency AND EXISTS (SELECT 1 FROM movement) BEGIN SELECT RAISE(ABORT, 'the currency is frozen at the first movement'); END;--> statement-breakpoint
CREATE VIRTUAL TABLE slip_search USING fts5(number, title, taker, content = 'slip', content_rowid = 'id', tokenize = 'trigram');--> statement-breakpoint
CREATE TRIGGER slip_searched AFTER UPDATE OF state ON slip WHEN old.state = 'draft' AND new.state = 'booked' BEGIN INSERT INTO slip_search (rowid, number, title, taker) VALUES (new.id, new.number, new.title, new.taker); END;
