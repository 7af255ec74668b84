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
