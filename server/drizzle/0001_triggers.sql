CREATE TRIGGER movement_no_update BEFORE UPDATE ON movement BEGIN SELECT RAISE(ABORT, 'movements are never changed'); END;--> statement-breakpoint
CREATE TRIGGER movement_no_delete BEFORE DELETE ON movement BEGIN SELECT RAISE(ABORT, 'movements are never deleted'); END;--> statement-breakpoint
CREATE TRIGGER slip_booked_stays BEFORE UPDATE ON slip WHEN old.state = 'booked' BEGIN SELECT RAISE(ABORT, 'a booked slip is never changed'); END;--> statement-breakpoint
CREATE TRIGGER slip_booked_no_delete BEFORE DELETE ON slip WHEN old.state = 'booked' BEGIN SELECT RAISE(ABORT, 'a booked slip is never deleted'); END;--> statement-breakpoint
CREATE TRIGGER pack_stays BEFORE UPDATE OF item_id, name, size_n, size_d ON pack BEGIN SELECT RAISE(ABORT, 'a pack is never changed: retire it and make a new one'); END;--> statement-breakpoint
CREATE TRIGGER item_unit_stays BEFORE UPDATE OF unit ON item WHEN old.unit <> new.unit AND EXISTS (SELECT 1 FROM movement WHERE item_id = old.id) BEGIN SELECT RAISE(ABORT, 'the base unit is frozen at the first movement'); END;--> statement-breakpoint
CREATE TRIGGER currency_stays BEFORE UPDATE OF currency ON organisation WHEN old.currency <> new.currency AND EXISTS (SELECT 1 FROM movement) BEGIN SELECT RAISE(ABORT, 'the currency is frozen at the first movement'); END;
