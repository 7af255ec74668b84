-- What memberships give by themselves. `times`: how often in a year, on one piece; NULL: always, on the whole line.
CREATE TABLE membership_kind (id TEXT PRIMARY KEY, name TEXT NOT NULL, position INTEGER NOT NULL) STRICT;
CREATE TABLE benefit (
  id TEXT PRIMARY KEY, kind TEXT NOT NULL REFERENCES membership_kind, name TEXT NOT NULL, percent TEXT NOT NULL,
  item TEXT REFERENCES item, report_group TEXT, times INTEGER CHECK (times > 0),
  CHECK ((item IS NULL) <> (report_group IS NULL))
) STRICT;
CREATE TABLE membership (
  id INTEGER PRIMARY KEY, person INTEGER NOT NULL REFERENCES person, kind TEXT NOT NULL REFERENCES membership_kind,
  since TEXT NOT NULL, until TEXT NOT NULL, staff TEXT NOT NULL REFERENCES staff, ended_at TEXT
) STRICT;
CREATE INDEX membership_person ON membership (person) WHERE ended_at IS NULL;
-- An adjustment that a benefit gave, and whose it was; a benefit that is kept for another day.
ALTER TABLE adjustment ADD COLUMN benefit TEXT REFERENCES benefit;
ALTER TABLE adjustment ADD COLUMN person INTEGER REFERENCES person;
CREATE INDEX adjustment_benefit ON adjustment (person, benefit) WHERE benefit IS NOT NULL;
CREATE TABLE benefit_kept (
  ticket INTEGER NOT NULL REFERENCES ticket, benefit TEXT NOT NULL REFERENCES benefit, PRIMARY KEY (ticket, benefit)
) STRICT;
