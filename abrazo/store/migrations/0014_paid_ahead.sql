-- ==== Paid ahead: prepaid series

-- A line may sell a series. The rule of the column is rewritten in place, since others refer to the rows.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '''voucher'', ''store credit'')), -- what it does', '''voucher'', ''store credit'', ''series'')), -- what it does')
  WHERE type = 'table' AND name = 'line';
PRAGMA writable_schema = RESET;

-- What a prepaid series is; its name, price and tax are those of the item that sells it.
CREATE TABLE series_kind (
  item TEXT PRIMARY KEY REFERENCES item, -- that sells it
  uses INTEGER NOT NULL CHECK (uses > 0), -- how many it has
  days INTEGER NOT NULL CHECK (days > 0) -- how long it can be used from the day on which it is sold
) STRICT;

-- What a use of a series can be had for.
CREATE TABLE series_item (
  series TEXT NOT NULL REFERENCES series_kind, -- which series
  item TEXT NOT NULL REFERENCES item, -- that it covers
  PRIMARY KEY (series, item)
) STRICT;
CREATE INDEX series_item_item ON series_item (item);

-- Series that were sold to somebody.
CREATE TABLE series (
  id INTEGER PRIMARY KEY, -- never shown
  line INTEGER NOT NULL UNIQUE REFERENCES line, -- that sells it
  item TEXT NOT NULL REFERENCES series_kind, -- which one it is
  person INTEGER NOT NULL REFERENCES person, -- whose it is
  uses INTEGER NOT NULL, -- how many it has
  net INTEGER, -- what was paid for it without tax, minor units; NULL: its ticket is not closed
  sold_on TEXT, -- ISO date
  until TEXT -- ISO date, the last on which it can be used
) STRICT;
CREATE INDEX series_person ON series (person);
CREATE INDEX series_until ON series (until) WHERE until IS NOT NULL;

-- Uses that are gone: had on a ticket, given back with a refund, or expired. A use that was undone is free again.
CREATE TABLE series_use (
  id INTEGER PRIMARY KEY, -- order
  series INTEGER NOT NULL REFERENCES series, -- of which series
  number INTEGER NOT NULL CHECK (number > 0), -- which use, from 1
  adjustment INTEGER REFERENCES adjustment, -- by which it covers a piece of a line
  refund INTEGER REFERENCES refund, -- with which it was given back; without both: it expired
  at TEXT NOT NULL, -- when
  worth INTEGER, -- what it took of the series in the books, minor units; NULL: its ticket is not closed
  freed_at TEXT -- since when it is free again
) STRICT;
CREATE UNIQUE INDEX series_use_once ON series_use (series, number) WHERE freed_at IS NULL;
CREATE INDEX series_use_adjustment ON series_use (adjustment) WHERE adjustment IS NOT NULL;
CREATE INDEX series_use_refund ON series_use (refund) WHERE refund IS NOT NULL;

-- Series that somebody saves for another day on this visit.
CREATE TABLE series_saved (
  ticket INTEGER NOT NULL REFERENCES ticket, -- on which visit
  series INTEGER NOT NULL REFERENCES series, -- which series
  PRIMARY KEY (ticket, series)
) STRICT;

-- ==== Paid ahead: memberships that are sold

ALTER TABLE membership_kind ADD COLUMN household INTEGER NOT NULL DEFAULT 0 CHECK (household IN (0, 1)); -- it covers everybody of its holder's household
ALTER TABLE membership ADD COLUMN line INTEGER REFERENCES line; -- that sells it; NULL: it was given
ALTER TABLE membership ADD COLUMN net INTEGER; -- what was paid for it without tax, minor units; NULL: given, or its ticket is not closed
ALTER TABLE membership ADD COLUMN anchor TEXT; -- ISO date from which its terms are counted when it is renewed; NULL: from its first day
CREATE UNIQUE INDEX membership_line ON membership (line) WHERE line IS NOT NULL;
ALTER TABLE settings ADD COLUMN memberships_back INTEGER NOT NULL DEFAULT 1; -- days that are left of a membership can be given back

-- Items that sell a membership.
CREATE TABLE membership_item (
  item TEXT PRIMARY KEY REFERENCES item, -- that sells it
  kind TEXT NOT NULL REFERENCES membership_kind, -- of what
  months INTEGER NOT NULL CHECK (months > 0) -- for how long
) STRICT;

-- When memberships rested.
CREATE TABLE membership_pause (
  id INTEGER PRIMARY KEY, -- order
  membership INTEGER NOT NULL REFERENCES membership, -- which membership
  first TEXT NOT NULL, -- ISO date, the first day of it
  last TEXT NOT NULL, -- ISO date, the last
  at TEXT NOT NULL, -- when it was written down
  staff TEXT NOT NULL REFERENCES staff -- by whom
) STRICT;
CREATE INDEX membership_pause_of ON membership_pause (membership);
