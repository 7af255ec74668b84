-- Counter sales without a customer may be kept apart, by what they are sold from. A deposit may be kept by its terms.
ALTER TABLE ticket ADD COLUMN nameless TEXT NOT NULL DEFAULT '';
CREATE TABLE deposit_kept (
  line INTEGER PRIMARY KEY REFERENCES line, amount INTEGER NOT NULL CHECK (amount > 0), reason TEXT NOT NULL,
  at TEXT NOT NULL, day INTEGER NOT NULL REFERENCES day, till TEXT NOT NULL REFERENCES till,
  staff TEXT NOT NULL REFERENCES staff, lender TEXT REFERENCES staff
) STRICT;
CREATE TRIGGER deposit_kept_stays BEFORE DELETE ON deposit_kept BEGIN SELECT RAISE(ABORT, 'kept deposits stay'); END;
