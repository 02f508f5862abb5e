-- Schema 5: how far off a count may be is said by an item, a category, the organisation; what was counted first is kept with a tally. Made by drizzle-kit.
ALTER TABLE `category` ADD `tolerance_quantity` integer;--> statement-breakpoint
ALTER TABLE `category` ADD `tolerance_percent` integer;--> statement-breakpoint
ALTER TABLE `category` ADD `tolerance_value` integer;--> statement-breakpoint
ALTER TABLE `item` ADD `tolerance_quantity` integer;--> statement-breakpoint
ALTER TABLE `item` ADD `tolerance_percent` integer;--> statement-breakpoint
ALTER TABLE `item` ADD `tolerance_value` integer;--> statement-breakpoint
ALTER TABLE `organisation` ADD `tolerance_value` integer;--> statement-breakpoint
ALTER TABLE `tally` ADD `first_off` integer;--> statement-breakpoint
ALTER TABLE `tally` ADD `first_within` integer;--> statement-breakpoint
CREATE INDEX `tally_counted` ON `tally` (`counted_at`);
