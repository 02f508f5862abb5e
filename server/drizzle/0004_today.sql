CREATE TABLE `preference` (
	`person_id` integer NOT NULL,
	`name` text NOT NULL,
	`value` text NOT NULL,
	PRIMARY KEY(`person_id`, `name`),
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `movement_unpriced` ON `movement` (`seq`) WHERE "movement"."goods" is null and "movement"."quantity" > 0 and "movement"."reverses" is null and "movement"."kind" in ('receipt', 'direct');