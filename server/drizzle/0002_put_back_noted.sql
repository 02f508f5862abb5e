-- Schema 4: that a backup was put in place is noted, too. Made by drizzle-kit; added by hand: STRICT, and the triggers, which go with the table before.
CREATE TABLE `__new_audit` (
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
	CONSTRAINT "audit_what" CHECK("__new_audit"."what" in ('begun', 'person_added', 'person_renamed', 'person_out_of_use', 'person_in_use', 'roles', 'password_reset', 'password', 'pin', 'badge', 'signed_out', 'setting', 'account_code', 'month_closed', 'sign_in_refused', 'hands_refused', 'put_back'))
) STRICT;
--> statement-breakpoint
INSERT INTO `__new_audit`("id", "at", "by_id", "what", "subject", "before", "after", "address", "device") SELECT "id", "at", "by_id", "what", "subject", "before", "after", "address", "device" FROM `audit`;--> statement-breakpoint
DROP TABLE `audit`;--> statement-breakpoint
ALTER TABLE `__new_audit` RENAME TO `audit`;--> statement-breakpoint
CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'what was noted is never changed'); END;--> statement-breakpoint
CREATE TRIGGER audit_no_delete BEFORE DELETE ON audit BEGIN SELECT RAISE(ABORT, 'what was noted is never deleted'); END;--> statement-breakpoint
CREATE TRIGGER audit_no_replace BEFORE INSERT ON audit WHEN EXISTS (SELECT 1 FROM audit WHERE id = new.id) BEGIN SELECT RAISE(ABORT, 'what was noted is never replaced'); END;
