-- The pictures that stood at the head of receipts before are kept, so that a change can be turned round.
CREATE TABLE logo_before AS SELECT * FROM logo;
DROP TABLE logo;
-- Pictures at the head of receipts: the one that prints, and those before.
CREATE TABLE logo (
  id INTEGER PRIMARY KEY, -- order
  image BLOB NOT NULL, -- PNG, black and white
  width INTEGER NOT NULL CHECK (width > 0), -- dots
  height INTEGER NOT NULL CHECK (height > 0), -- dots
  at TEXT NOT NULL, -- when it was brought, UTC
  prints INTEGER NOT NULL DEFAULT 0 CHECK (prints IN (0, 1)) -- whether it is the one
) STRICT;
CREATE UNIQUE INDEX one_logo_prints ON logo (prints) WHERE prints = 1;
INSERT INTO logo SELECT *, 1 FROM logo_before;
DROP TABLE logo_before;
