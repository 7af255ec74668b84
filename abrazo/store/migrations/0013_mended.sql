-- A tax of several authorities; the parts' rates add up to the tax's.
CREATE TABLE tax_part (
  tax TEXT NOT NULL REFERENCES tax, position INTEGER NOT NULL, label TEXT NOT NULL, rate TEXT NOT NULL,
  PRIMARY KEY (tax, position)
) STRICT;
-- A payer may take the charges evenly or in proportion, whatever the charges say.
ALTER TABLE payer ADD COLUMN fees TEXT CHECK (fees IN ('even', 'proportional'));
-- When a bill was last printed for somebody who still owes.
ALTER TABLE ticket ADD COLUMN billed_at TEXT;
-- What of each line and charge a refund gave back, in minor units without added tax.
CREATE TABLE refund_part (
  refund INTEGER NOT NULL REFERENCES refund, kind TEXT NOT NULL CHECK (kind IN ('line', 'charge')), ref INTEGER NOT NULL,
  amount INTEGER NOT NULL, PRIMARY KEY (refund, kind, ref)
) STRICT;
-- A paper or message is claimed by one sender before it goes out.
ALTER TABLE outbox ADD COLUMN claimed_at TEXT;
-- A request is bound to what it is about, for example `ticket 12`.
ALTER TABLE act ADD COLUMN about TEXT NOT NULL DEFAULT '';
-- The pieces that left in one hand-over share the id of its first row.
ALTER TABLE handover ADD COLUMN batch INTEGER REFERENCES handover;
UPDATE handover SET batch = (SELECT min(h.id) FROM handover h WHERE h.job = handover.job AND h.at = handover.at);
