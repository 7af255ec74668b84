-- ==== Files that come in, read beside the pages; what they bring is seen when all of it is there

-- A file that was handed in. Its bytes are kept until it was read.
CREATE TABLE file_import (
  id INTEGER PRIMARY KEY, -- order
  kind TEXT NOT NULL CHECK (kind IN ('people', 'bookings')), -- what it holds
  name TEXT NOT NULL, -- of the file
  data BLOB NOT NULL, -- the file; empty when it was read
  at TEXT NOT NULL, -- when it was handed in, UTC
  staff TEXT NOT NULL REFERENCES staff, -- by whom
  till TEXT NOT NULL REFERENCES till, -- where
  lender TEXT REFERENCES staff, -- who lent the right
  state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'reading', 'writing', 'done', 'refused')), -- how far
  entries INTEGER NOT NULL DEFAULT 0, -- how many it holds; 0: not known yet
  written INTEGER NOT NULL DEFAULT 0, -- how many of them were looked at
  added INTEGER NOT NULL DEFAULT 0, -- how many were new
  changed INTEGER NOT NULL DEFAULT 0, -- how many changed what was there
  fault TEXT NOT NULL DEFAULT '', -- why it was refused, JSON; empty: it was not
  ended_at TEXT -- when it was done or refused, UTC
) STRICT;
CREATE INDEX file_import_open ON file_import (id) WHERE state IN ('waiting', 'reading', 'writing');

ALTER TABLE person ADD COLUMN file_import INTEGER REFERENCES file_import; -- that brings them; null: nothing is under way
CREATE INDEX person_file_import ON person (file_import) WHERE file_import IS NOT NULL;
CREATE INDEX person_phone ON person (phone) WHERE phone IS NOT NULL;
CREATE INDEX household_name ON household (name);
CREATE TRIGGER person_is_found_no_more AFTER DELETE ON person BEGIN
  INSERT INTO person_words (person_words, rowid, search_words) VALUES ('delete', old.id, old.search_words);
END;

-- People, without those of a file that is still coming in.
CREATE VIEW known_person AS
SELECT * FROM person
WHERE file_import IS NULL OR EXISTS (SELECT 1 FROM file_import f WHERE f.id = person.file_import AND f.state = 'done');

-- ==== Tips of a pool, divided among people

-- A pool of tips that was divided.
CREATE TABLE pool_division (
  id INTEGER PRIMARY KEY, -- order
  day INTEGER NOT NULL REFERENCES day, -- on which business day
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who divided it
  at TEXT NOT NULL, -- when, UTC
  measure TEXT NOT NULL CHECK (measure IN ('hours', 'points')), -- by what
  amount INTEGER NOT NULL CHECK (amount > 0) -- all that was divided, minor units
) STRICT;
CREATE INDEX pool_division_day ON pool_division (day);
CREATE TRIGGER pool_division_is_not_changed BEFORE UPDATE ON pool_division
  BEGIN SELECT RAISE(ABORT, 'a pool that was divided stays so'); END;
CREATE TRIGGER pool_division_is_not_removed BEFORE DELETE ON pool_division
  BEGIN SELECT RAISE(ABORT, 'a pool that was divided stays so'); END;

-- Who has what of it.
CREATE TABLE pool_share (
  division INTEGER NOT NULL REFERENCES pool_division, -- of which it is a part
  person TEXT NOT NULL REFERENCES staff, -- whose it is
  weight TEXT NOT NULL, -- hours or points, a decimal
  amount INTEGER NOT NULL CHECK (amount >= 0), -- minor units
  PRIMARY KEY (division, person)
) STRICT;
CREATE TRIGGER pool_share_is_not_changed BEFORE UPDATE ON pool_share
  BEGIN SELECT RAISE(ABORT, 'a pool that was divided stays so'); END;
CREATE TRIGGER pool_share_is_not_removed BEFORE DELETE ON pool_share
  BEGIN SELECT RAISE(ABORT, 'a pool that was divided stays so'); END;

-- ==== What is owed to customers at the end of each day

-- A gift card, credit, deposit or somebody's points, as it stood when a day was closed; a row where it changed.
CREATE TABLE owed_standing (
  kind TEXT NOT NULL, -- gift card, voucher, store credit, deposit, points
  ref INTEGER NOT NULL, -- the stored value, job or person
  day INTEGER NOT NULL REFERENCES day, -- at the end of which business day
  amount INTEGER NOT NULL, -- minor units
  points INTEGER NOT NULL DEFAULT 0, -- how many; of points only
  PRIMARY KEY (kind, ref, day)
) STRICT;
CREATE TRIGGER owed_standing_is_not_changed BEFORE UPDATE ON owed_standing
  BEGIN SELECT RAISE(ABORT, 'what was owed on a closed day stays so'); END;
CREATE TRIGGER owed_standing_is_not_removed BEFORE DELETE ON owed_standing
  BEGIN SELECT RAISE(ABORT, 'what was owed on a closed day stays so'); END;

ALTER TABLE sealed_report ADD COLUMN owed_kept INTEGER NOT NULL DEFAULT 0; -- 1: what was owed then is kept with it
