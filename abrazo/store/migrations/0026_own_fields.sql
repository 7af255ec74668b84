-- ==== Facts of people and jobs that the house defines itself

-- Which facts there are.
CREATE TABLE own_field (
  id INTEGER PRIMARY KEY, -- order
  about TEXT NOT NULL CHECK (about IN ('person', 'job')), -- of whom or what
  name TEXT NOT NULL, -- what it is called
  choices TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(choices)), -- what it can be, as a JSON array; empty: anything
  position INTEGER NOT NULL, -- place in the form
  ended_at TEXT, -- since when it is not asked for any more
  UNIQUE (about, name)
) STRICT;

-- What they are.
CREATE TABLE own_value (
  field INTEGER NOT NULL REFERENCES own_field, -- which fact
  ref INTEGER NOT NULL, -- id of the person or job
  value TEXT NOT NULL, -- as typed or chosen
  PRIMARY KEY (field, ref)
) STRICT;
