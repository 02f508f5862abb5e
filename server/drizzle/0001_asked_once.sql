-- Schema 3: what was asked for once, under a key. Made by drizzle-kit; added by hand: STRICT, WITHOUT ROWID.
CREATE TABLE `asked_once` (
	`person` text NOT NULL,
	`key` text NOT NULL,
	`asked` text NOT NULL,
	`at` integer NOT NULL,
	`status` integer,
	`json` text,
	PRIMARY KEY(`person`, `key`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `asked_once_at` ON `asked_once` (`at`);
