-- ==== Files of set-up

-- Files that were handed in, between looking at them and doing what they say.
CREATE TABLE set_up_file (
  id INTEGER PRIMARY KEY, -- number
  kind TEXT NOT NULL, -- of what things
  name TEXT NOT NULL, -- as it was called
  data BLOB NOT NULL, -- its bytes
  at TEXT NOT NULL -- when it came
) STRICT;
CREATE INDEX item_position ON item (position);
