-- Opening and closing the day: counts of the drawer, and money paid in or out of it.

ALTER TABLE day ADD COLUMN closed_by TEXT REFERENCES staff;

CREATE TABLE drawer_count (
  id INTEGER PRIMARY KEY, day INTEGER NOT NULL REFERENCES day, till TEXT NOT NULL REFERENCES till,
  staff TEXT NOT NULL REFERENCES staff, at TEXT NOT NULL, pieces TEXT NOT NULL,
  total INTEGER NOT NULL CHECK (total >= 0), expected INTEGER NOT NULL
) STRICT;
CREATE INDEX drawer_count_day ON drawer_count (day, till);

CREATE TABLE petty (
  id INTEGER PRIMARY KEY, day INTEGER NOT NULL REFERENCES day, till TEXT NOT NULL REFERENCES till,
  staff TEXT NOT NULL REFERENCES staff, at TEXT NOT NULL, direction TEXT NOT NULL CHECK (direction IN ('out', 'in')),
  category TEXT NOT NULL, note TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0)
) STRICT;
CREATE INDEX petty_day ON petty (day, till);

CREATE TRIGGER drawer_count_is_not_changed BEFORE UPDATE ON drawer_count BEGIN SELECT RAISE(ABORT, 'counts are append-only'); END;
CREATE TRIGGER drawer_count_is_not_removed BEFORE DELETE ON drawer_count BEGIN SELECT RAISE(ABORT, 'counts are append-only'); END;
CREATE TRIGGER petty_is_not_changed BEFORE UPDATE ON petty BEGIN SELECT RAISE(ABORT, 'paid in and out are append-only'); END;
CREATE TRIGGER petty_is_not_removed BEFORE DELETE ON petty BEGIN SELECT RAISE(ABORT, 'paid in and out are append-only'); END;
