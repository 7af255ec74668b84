-- ==== What goes back of hires: owners are told of it, and an early return can leave something

ALTER TABLE settings ADD COLUMN early_hires_back INTEGER NOT NULL DEFAULT 0; -- what an early return leaves goes back

DROP INDEX hire_told_waiting;
ALTER TABLE hire_told RENAME TO hire_told_before;

-- What owners were told of hires: once for each event.
CREATE TABLE hire_told (
  id INTEGER PRIMARY KEY, -- order
  hire INTEGER NOT NULL REFERENCES hire, -- which hire
  event TEXT NOT NULL CHECK (event IN ('hired', 'not hired', 'refunded', 'returned')), -- what happened
  reference TEXT NOT NULL UNIQUE, -- ours, by which the owner knows it again
  at TEXT NOT NULL, -- when
  body TEXT NOT NULL, -- the file, JSON
  sent_at TEXT -- when it lay in the owner's folder
) STRICT;
INSERT INTO hire_told SELECT id, hire, event, reference, at, body, sent_at FROM hire_told_before;
DROP TABLE hire_told_before;
CREATE INDEX hire_told_waiting ON hire_told (id) WHERE sent_at IS NULL;
