-- ==== Set-up: who changed what, and what is retired

-- Every change of what the house is set up with; apart from the days, for it begins before the first.
CREATE TABLE set_up_change (
  id INTEGER PRIMARY KEY, -- order
  at TEXT NOT NULL, -- when
  staff TEXT NOT NULL REFERENCES staff, -- who
  till TEXT NOT NULL REFERENCES till, -- where
  thing TEXT NOT NULL, -- what kind of thing: settings, items and so on
  ref TEXT NOT NULL, -- which one
  what TEXT NOT NULL CHECK (what IN ('added', 'changed', 'retired', 'brought back')), -- what was done
  name TEXT NOT NULL, -- what it was called then
  before TEXT NOT NULL, -- JSON, the fields that changed
  after TEXT NOT NULL -- JSON, the same fields
) STRICT;
CREATE INDEX set_up_change_ref ON set_up_change (thing, ref);
CREATE TRIGGER set_up_change_stays BEFORE DELETE ON set_up_change
  BEGIN SELECT RAISE(ABORT, 'what was changed in set-up stays written down'); END;

ALTER TABLE category ADD COLUMN ended_at TEXT; -- since when it is retired
ALTER TABLE item ADD COLUMN ended_at TEXT; -- since when it is retired
ALTER TABLE choice_group ADD COLUMN ended_at TEXT; -- since when it is retired
ALTER TABLE preset ADD COLUMN ended_at TEXT; -- since when it is retired
ALTER TABLE staff ADD COLUMN ended_at TEXT; -- since when they do not work here any more
ALTER TABLE till ADD COLUMN ended_at TEXT; -- since when nobody works at it any more
