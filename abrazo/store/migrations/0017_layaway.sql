-- ==== Goods that are set aside until they are paid

-- Tickets whose goods are set aside for their customer.
CREATE TABLE layaway (
  ticket INTEGER PRIMARY KEY REFERENCES ticket, -- on which they stand
  number INTEGER NOT NULL UNIQUE, -- as the tag shows it
  until TEXT NOT NULL, -- ISO date until which they are kept
  held INTEGER NOT NULL, -- what was paid so far and is the customer's, minor units
  at TEXT NOT NULL, -- since when
  staff TEXT NOT NULL REFERENCES staff, -- who set them aside
  ended_at TEXT, -- when they were handed over, or it was cancelled
  cancelled INTEGER NOT NULL DEFAULT 0 CHECK (cancelled IN (0, 1)) -- it was
) STRICT;
CREATE INDEX layaway_kept ON layaway (until) WHERE ended_at IS NULL;
ALTER TABLE settings ADD COLUMN layaway_percent TEXT NOT NULL DEFAULT '20'; -- of the total that is paid at first, at least
ALTER TABLE settings ADD COLUMN layaway_days INTEGER NOT NULL DEFAULT 60; -- for how long goods are kept, unless said otherwise
ALTER TABLE settings ADD COLUMN layaway_fee TEXT NOT NULL DEFAULT '10'; -- percent of what was paid that is kept when it is cancelled
ALTER TABLE settings ADD COLUMN layaway_tax TEXT REFERENCES tax; -- of that fee; NULL: untaxed
