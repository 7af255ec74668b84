-- What is still missing around paying: the pieces in a drawer, tips to a pool, text messages.

-- The pieces that a drawer should hold, as JSON by denomination; empty when its float was entered as a total.
ALTER TABLE day_till ADD COLUMN pieces TEXT NOT NULL DEFAULT '';
-- The pieces of a payment's change, when the drawer's are known.
ALTER TABLE payment ADD COLUMN pieces TEXT NOT NULL DEFAULT '';

-- Whose a ticket's tips are, as the house had it when the ticket was opened: those who served, or a pool.
ALTER TABLE ticket ADD COLUMN tips_to TEXT NOT NULL DEFAULT 'staff' CHECK (tips_to IN ('staff', 'pool'));

-- An order by phone: fetched or brought, where to, whom to ring.
CREATE TABLE phone_order (
  ticket INTEGER PRIMARY KEY REFERENCES ticket, way TEXT NOT NULL CHECK (way IN ('pick-up', 'delivery')),
  phone TEXT NOT NULL, address TEXT NOT NULL, directions TEXT NOT NULL
) STRICT;

-- What of a refund is tip; the deposit line of which a refund gives back the rest to its card.
ALTER TABLE refund ADD COLUMN tip INTEGER NOT NULL DEFAULT 0;
ALTER TABLE refund ADD COLUMN deposit INTEGER REFERENCES line;
CREATE INDEX refund_deposit ON refund (deposit) WHERE deposit IS NOT NULL;

-- Discounts, comps and surcharges: presets of the house, and what was given. Without a line it is on the ticket.
CREATE TABLE preset (
  id TEXT PRIMARY KEY, name TEXT NOT NULL, kind TEXT NOT NULL CHECK (kind IN ('discount', 'comp', 'surcharge')),
  percent TEXT, amount INTEGER, code TEXT UNIQUE, scope TEXT NOT NULL CHECK (scope IN ('line', 'ticket', 'both')),
  position INTEGER NOT NULL, CHECK ((percent IS NULL) <> (amount IS NULL))
) STRICT;
CREATE TABLE adjustment (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, line INTEGER REFERENCES line,
  kind TEXT NOT NULL CHECK (kind IN ('discount', 'comp', 'surcharge')), percent TEXT, amount INTEGER,
  reason TEXT NOT NULL, code TEXT NOT NULL, at TEXT NOT NULL, staff TEXT NOT NULL REFERENCES staff,
  lender TEXT REFERENCES staff, ended_at TEXT, ended_by TEXT REFERENCES staff,
  CHECK ((percent IS NULL) <> (amount IS NULL))
) STRICT;
CREATE INDEX adjustment_ticket ON adjustment (ticket);
CREATE TRIGGER adjustment_is_not_removed BEFORE DELETE ON adjustment BEGIN SELECT RAISE(ABORT, 'adjustments stay'); END;
-- A line that a ticket discount does not reach.
CREATE TABLE adjustment_off (
  adjustment INTEGER NOT NULL REFERENCES adjustment, line INTEGER NOT NULL REFERENCES line, PRIMARY KEY (adjustment, line)
) STRICT;
-- Items whose unit price may be overtyped.
ALTER TABLE item ADD COLUMN variable INTEGER NOT NULL DEFAULT 0;

-- What the places that prepare things were told: new lines, and lines that are not wanted any more.
CREATE TABLE slip (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, place TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('make', 'stop')), at TEXT NOT NULL, staff TEXT NOT NULL REFERENCES staff,
  done_at TEXT, done_by TEXT REFERENCES staff
) STRICT;
CREATE INDEX slip_waiting ON slip (place, id) WHERE done_at IS NULL;
CREATE INDEX slip_done ON slip (place, done_at);
CREATE INDEX slip_ticket ON slip (ticket);
CREATE TABLE slip_line (
  slip INTEGER NOT NULL REFERENCES slip, line INTEGER NOT NULL REFERENCES line, quantity TEXT NOT NULL, words TEXT NOT NULL,
  PRIMARY KEY (slip, line)
) STRICT;
CREATE INDEX slip_line_line ON slip_line (line);

-- Price lists that hold at some hours of some days; days are digits, 0 is Monday. Lines keep the name of theirs.
CREATE TABLE price_list (
  id TEXT PRIMARY KEY, name TEXT NOT NULL, days TEXT NOT NULL, begins TEXT NOT NULL, ends TEXT NOT NULL,
  position INTEGER NOT NULL
) STRICT;
CREATE TABLE price_list_item (
  list TEXT NOT NULL REFERENCES price_list, item TEXT NOT NULL REFERENCES item, price INTEGER NOT NULL CHECK (price >= 0),
  PRIMARY KEY (list, item)
) STRICT;
ALTER TABLE line ADD COLUMN price_list TEXT NOT NULL DEFAULT '';
ALTER TABLE ticket ADD COLUMN price_list TEXT NOT NULL DEFAULT '';
-- Requests that are written again and again.
CREATE TABLE preset_note (words TEXT PRIMARY KEY, position INTEGER NOT NULL) STRICT;

-- People who work in counter mode only.
ALTER TABLE staff ADD COLUMN counter_only INTEGER NOT NULL DEFAULT 0;

-- A table that is no longer on the floor plan; its tickets keep it.
ALTER TABLE spot ADD COLUMN ended_at TEXT;

-- Past tickets by when they closed and by what was paid, among very many.
CREATE INDEX ticket_past ON ticket (closed_at) WHERE closed_at IS NOT NULL;
CREATE INDEX payment_given ON payment (amount + tip);
