-- ==== Reports of figures

-- What an entry puts into the report of its day, beside its postings.
CREATE TABLE figure (
  entry INTEGER NOT NULL REFERENCES journal, -- which entry
  kind TEXT NOT NULL, -- what it counts: sale, tax, tender and so on
  name TEXT NOT NULL, -- the report group, tax, tender or person
  detail TEXT NOT NULL, -- the item, route or reason
  count INTEGER NOT NULL, -- how many; negative when they went back
  amount INTEGER NOT NULL, -- minor units
  base INTEGER NOT NULL, -- of a tax: what it is on, minor units
  PRIMARY KEY (entry, kind, name, detail)
) STRICT;
ALTER TABLE settings ADD COLUMN pay_out_limit INTEGER NOT NULL DEFAULT 5000; -- up to which everybody pays out of the drawer, minor units
ALTER TABLE day_till ADD COLUMN float_pieces TEXT NOT NULL DEFAULT ''; -- of the float, JSON by denomination; empty: not known
ALTER TABLE refund ADD COLUMN rounding INTEGER NOT NULL DEFAULT 0; -- what more (or, negative, less) went back in cash
CREATE INDEX refund_part_ref ON refund_part (ref) WHERE kind = 'line';
CREATE INDEX refund_payment ON refund (payment);
CREATE INDEX journal_day ON journal (day);
CREATE TRIGGER figure_is_not_changed BEFORE UPDATE ON figure
  BEGIN SELECT RAISE(ABORT, 'figures are append-only'); END;
CREATE TRIGGER figure_is_not_removed BEFORE DELETE ON figure
  BEGIN SELECT RAISE(ABORT, 'figures are append-only'); END;

-- The figures of closed days, as they were when the day was closed.
CREATE TABLE sealed_report (
  day INTEGER PRIMARY KEY REFERENCES day, -- which day
  report TEXT NOT NULL, -- the figures, canonical JSON
  entries INTEGER NOT NULL, -- how many entries the journal had then
  head TEXT NOT NULL -- hash of the last of them
) STRICT;
CREATE TRIGGER sealed_report_is_not_changed BEFORE UPDATE ON sealed_report
  BEGIN SELECT RAISE(ABORT, 'the report of a closed day is sealed'); END;
CREATE TRIGGER sealed_report_is_not_removed BEFORE DELETE ON sealed_report
  BEGIN SELECT RAISE(ABORT, 'the report of a closed day is sealed'); END;
