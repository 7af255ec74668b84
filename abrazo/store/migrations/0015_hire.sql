-- ==== Hire

-- What is hired out: the item under which it stands on tickets, its owner and terms.
CREATE TABLE hire_kind (
  item TEXT PRIMARY KEY REFERENCES item, -- its name, tax and report group
  owner TEXT NOT NULL, -- whose the units are; empty: the house's own
  share TEXT NOT NULL, -- percent of what a hire brings without tax that the owner has
  value INTEGER NOT NULL CHECK (value >= 0), -- to replace one, minor units
  grace INTEGER NOT NULL CHECK (grace >= 0), -- minutes after the due time that cost nothing
  late_step INTEGER NOT NULL CHECK (late_step > 0), -- minutes of which every started one costs
  late_price INTEGER NOT NULL CHECK (late_price >= 0), -- so much, minor units
  margin INTEGER NOT NULL DEFAULT 25 CHECK (margin >= 0), -- days after the return for which the card must still be good
  early INTEGER NOT NULL DEFAULT 0 CHECK (early IN (0, 1)) -- an early return gives back what the cheapest tariffs make less
) STRICT;

-- What a length of time costs.
CREATE TABLE hire_tariff (
  id TEXT PRIMARY KEY, -- short name
  item TEXT NOT NULL REFERENCES hire_kind, -- of what
  name TEXT NOT NULL, -- as pages and papers show it
  minutes INTEGER CHECK (minutes > 0), -- elapsed; NULL: a window of the week
  from_day INTEGER, -- of the window: weekday, Monday is 0
  from_time TEXT, -- wall time, HH:MM
  to_day INTEGER, -- weekday
  to_time TEXT, -- wall time, HH:MM
  price INTEGER NOT NULL CHECK (price >= 0), -- minor units
  position INTEGER NOT NULL, -- order on pages
  CHECK ((minutes IS NULL) = (from_day IS NOT NULL AND from_time IS NOT NULL AND to_day IS NOT NULL AND to_time IS NOT NULL))
) STRICT;
CREATE INDEX hire_tariff_item ON hire_tariff (item, position);

-- The things themselves.
CREATE TABLE hire_unit (
  id TEXT PRIMARY KEY, -- what stands on it, for example D-07
  item TEXT NOT NULL REFERENCES hire_kind, -- what it is
  code TEXT UNIQUE, -- barcode on it
  note TEXT NOT NULL DEFAULT '', -- its condition, as it was last written down
  ended_at TEXT -- since when it is not hired out any more
) STRICT;
CREATE INDEX hire_unit_item ON hire_unit (item);

-- Hires: a unit for somebody, from a moment to another.
CREATE TABLE hire (
  id INTEGER PRIMARY KEY, -- never shown
  number INTEGER NOT NULL UNIQUE, -- as papers show it
  unit TEXT NOT NULL REFERENCES hire_unit, -- which thing
  person INTEGER NOT NULL REFERENCES person, -- who has it
  line INTEGER NOT NULL UNIQUE REFERENCES line, -- on which it is sold
  tariff TEXT NOT NULL REFERENCES hire_tariff, -- for how long
  starts_at TEXT NOT NULL, -- wall time
  due_at TEXT NOT NULL, -- wall time
  card INTEGER NOT NULL REFERENCES card, -- that secures it
  returned_at TEXT, -- when it came back
  returned_by TEXT REFERENCES staff, -- who took it back
  note TEXT NOT NULL DEFAULT '', -- in what condition
  late INTEGER NOT NULL DEFAULT 0, -- what being late cost, minor units
  damage INTEGER NOT NULL DEFAULT 0, -- what damage or loss cost, minor units
  charged_on INTEGER REFERENCES ticket, -- on which that stands
  part INTEGER -- what its owner has of it, minor units; NULL: its ticket is not closed
) STRICT;
CREATE INDEX hire_unit_of ON hire (unit, due_at);
CREATE INDEX hire_person ON hire (person);
CREATE INDEX hire_out ON hire (due_at) WHERE returned_at IS NULL;

-- What owners were told of hires: once for each event.
CREATE TABLE hire_told (
  id INTEGER PRIMARY KEY, -- order
  hire INTEGER NOT NULL REFERENCES hire, -- which hire
  event TEXT NOT NULL CHECK (event IN ('hired', 'not hired', 'returned')), -- what happened
  reference TEXT NOT NULL UNIQUE, -- ours, by which the owner knows it again
  at TEXT NOT NULL, -- when
  body TEXT NOT NULL, -- the file, JSON
  sent_at TEXT -- when it lay in the owner's folder
) STRICT;
CREATE INDEX hire_told_waiting ON hire_told (id) WHERE sent_at IS NULL;
