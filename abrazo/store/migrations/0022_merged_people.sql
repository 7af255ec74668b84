-- ==== Two records of one person become one, and can be two again

ALTER TABLE person ADD COLUMN merged_into INTEGER REFERENCES person; -- who this is the same as; NULL: themselves

-- What a merge moved, so that it can be undone.
CREATE TABLE person_merge (
  id INTEGER PRIMARY KEY, -- order
  person INTEGER NOT NULL REFERENCES person, -- who was merged
  into_person INTEGER NOT NULL REFERENCES person, -- into whom
  at TEXT NOT NULL, -- when
  staff TEXT NOT NULL REFERENCES staff, -- who did it
  facts TEXT NOT NULL CHECK (json_valid(facts)), -- both as they were, as JSON
  undone_at TEXT -- when they became two again
) STRICT;

-- Which rows a merge moved.
CREATE TABLE person_merge_row (
  merge INTEGER NOT NULL REFERENCES person_merge, -- which merge
  place TEXT NOT NULL, -- table and column, with a point between
  row INTEGER NOT NULL, -- which row of it
  PRIMARY KEY (merge, place, row)
) STRICT;

-- Whose points are may change with a merge; nothing else of them does.
DROP TRIGGER points_are_not_changed;
CREATE TRIGGER points_are_not_changed BEFORE UPDATE OF id, ticket, payment, points, at ON points
  BEGIN SELECT RAISE(ABORT, 'points are append-only'); END;
