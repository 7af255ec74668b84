-- What people held before the house kept it here: stored value, series, memberships and points come in from files.

-- ==== Brought in from before

-- Files of what people held before, each brought in as one entry of the books.
CREATE TABLE brought_in (
  id INTEGER PRIMARY KEY, -- order
  kind TEXT NOT NULL CHECK (kind IN ('stored-value', 'series-held', 'memberships-held', 'points')), -- of what
  name TEXT NOT NULL, -- of the file
  number INTEGER NOT NULL CHECK (number > 0), -- how many there were
  amount INTEGER NOT NULL, -- what the house owes for them, minor units; 0 where it owes nothing
  day INTEGER NOT NULL REFERENCES day, -- into the books of which day
  at TEXT NOT NULL, -- when, UTC
  staff TEXT NOT NULL REFERENCES staff, -- who
  till TEXT NOT NULL REFERENCES till, -- where
  taken_back_at TEXT, -- since when none of it counts any more, UTC
  taken_back_by TEXT REFERENCES staff -- who took it back
) STRICT;

ALTER TABLE stored_value ADD COLUMN opening INTEGER NOT NULL DEFAULT 0 CHECK (opening >= 0); -- what was on it when it was brought in, minor units
ALTER TABLE stored_value ADD COLUMN brought INTEGER REFERENCES brought_in; -- with which file it came
CREATE INDEX stored_value_brought ON stored_value (brought) WHERE brought IS NOT NULL;
ALTER TABLE membership ADD COLUMN brought INTEGER REFERENCES brought_in; -- with which file it came
CREATE INDEX membership_brought ON membership (brought) WHERE brought IS NOT NULL;

PRAGMA defer_foreign_keys = ON;

CREATE TABLE series_before AS SELECT * FROM series;
DROP TABLE series;
-- Series that people have: sold to them by a line, or brought in from before.
CREATE TABLE series (
  id INTEGER PRIMARY KEY, -- never shown
  line INTEGER UNIQUE REFERENCES line, -- that sells it; NULL: it was brought in
  item TEXT NOT NULL REFERENCES series_kind, -- which one it is
  person INTEGER NOT NULL REFERENCES person, -- whose it is
  uses INTEGER NOT NULL, -- how many it has
  net INTEGER, -- what was paid without tax for the uses that it had here, minor units; NULL: its ticket is not closed
  sold_on TEXT, -- ISO date
  until TEXT, -- ISO date, the last on which it can be used
  had_before INTEGER NOT NULL DEFAULT 0 CHECK (had_before >= 0), -- how many uses were had before it was brought in
  brought INTEGER REFERENCES brought_in -- with which file it came
) STRICT;
INSERT INTO series (id, line, item, person, uses, net, sold_on, until)
SELECT id, line, item, person, uses, net, sold_on, until FROM series_before;
DROP TABLE series_before;
CREATE INDEX series_person ON series (person);
CREATE INDEX series_until ON series (until) WHERE until IS NOT NULL;
CREATE INDEX series_brought ON series (brought) WHERE brought IS NOT NULL;

DROP INDEX points_person;
ALTER TABLE points RENAME TO points_before;
-- Points that people earned and spent, and those that were brought in.
CREATE TABLE points (
  id INTEGER PRIMARY KEY, -- order
  person INTEGER NOT NULL REFERENCES person, -- whose
  ticket INTEGER REFERENCES ticket, -- on which; NULL: they were brought in
  payment INTEGER REFERENCES payment, -- that spent them
  points INTEGER NOT NULL, -- earned or brought in; negative: spent or taken back
  at TEXT NOT NULL, -- when
  brought INTEGER REFERENCES brought_in -- with which file they came
) STRICT;
INSERT INTO points (id, person, ticket, payment, points, at)
SELECT id, person, ticket, payment, points, at FROM points_before;
DROP TABLE points_before;
CREATE INDEX points_person ON points (person);
CREATE INDEX points_brought ON points (brought) WHERE brought IS NOT NULL;
CREATE TRIGGER points_are_not_changed BEFORE UPDATE OF id, ticket, payment, points, at, brought ON points
  BEGIN SELECT RAISE(ABORT, 'points are append-only'); END;
CREATE TRIGGER points_are_not_removed BEFORE DELETE ON points
  BEGIN SELECT RAISE(ABORT, 'points are append-only'); END;
CREATE TRIGGER brought_in_is_not_removed BEFORE DELETE ON brought_in
  BEGIN SELECT RAISE(ABORT, 'what was brought in is append-only'); END;
