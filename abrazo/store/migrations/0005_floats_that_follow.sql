-- ==== Floats that follow from the last close

ALTER TABLE day_till ADD COLUMN taken_over INTEGER NOT NULL DEFAULT 0; -- what its drawer was left with at the last close, minor units
ALTER TABLE day_till ADD COLUMN difference TEXT; -- why the float is another: first, bank or unknown; null: it is not
ALTER TABLE day_till ADD COLUMN left_amount INTEGER; -- what stays in the drawer at closing, minor units; null: not closed yet

-- Cash that went from a drawer to the bank or the safe.
CREATE TABLE banked (
  id INTEGER PRIMARY KEY, -- order
  day INTEGER NOT NULL REFERENCES day, -- on which business day
  till TEXT NOT NULL REFERENCES till, -- out of whose drawer
  staff TEXT NOT NULL REFERENCES staff, -- who took it there
  at TEXT NOT NULL, -- when, UTC
  amount INTEGER NOT NULL CHECK (amount > 0), -- minor units
  closing INTEGER NOT NULL -- 1: after the count that closed the drawer
) STRICT;
CREATE INDEX banked_day ON banked (day);
CREATE TRIGGER banked_is_not_changed BEFORE UPDATE ON banked
  BEGIN SELECT RAISE(ABORT, 'what went to the bank is not changed'); END;
CREATE TRIGGER banked_is_not_removed BEFORE DELETE ON banked
  BEGIN SELECT RAISE(ABORT, 'what went to the bank is not removed'); END;

-- What money is paid out of drawers for, and in.
CREATE TABLE petty_category (
  name TEXT PRIMARY KEY, -- as pages show it
  position INTEGER NOT NULL -- order on pages
) STRICT;
INSERT INTO petty_category (name, position)
  SELECT category, min(id) FROM petty_cash WHERE deposit IS NULL GROUP BY category;
ALTER TABLE petty_cash ADD COLUMN takes_back INTEGER REFERENCES petty_cash; -- the row that it takes back
CREATE UNIQUE INDEX petty_cash_takes_back ON petty_cash (takes_back) WHERE takes_back IS NOT NULL;

-- Tips that were paid out of a drawer to those whose they are.
CREATE TABLE tip_paid (
  id INTEGER PRIMARY KEY, -- order
  day INTEGER NOT NULL REFERENCES day, -- on which business day
  till TEXT NOT NULL REFERENCES till, -- out of whose drawer
  staff TEXT NOT NULL REFERENCES staff, -- who paid them out
  at TEXT NOT NULL, -- when, UTC
  person TEXT NOT NULL, -- whose they are: a person, or pool
  amount INTEGER NOT NULL CHECK (amount > 0) -- minor units
) STRICT;
CREATE INDEX tip_paid_day ON tip_paid (day);
CREATE TRIGGER tip_paid_is_not_changed BEFORE UPDATE ON tip_paid
  BEGIN SELECT RAISE(ABORT, 'tips paid out are not changed'); END;
CREATE TRIGGER tip_paid_is_not_removed BEFORE DELETE ON tip_paid
  BEGIN SELECT RAISE(ABORT, 'tips paid out are not removed'); END;
