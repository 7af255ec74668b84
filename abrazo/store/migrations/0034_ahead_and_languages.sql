-- Tax on what was paid for goods that are set aside, where it is owed when it is received; people's languages.

ALTER TABLE layaway ADD COLUMN taxed INTEGER NOT NULL DEFAULT 0 CHECK (taxed IN (0, 1)); -- the house owed tax on advances when they were set aside

-- The taxes in what is held for goods that are set aside.
CREATE TABLE layaway_tax (
  ticket INTEGER NOT NULL REFERENCES layaway, -- which sets them aside
  tax TEXT NOT NULL REFERENCES tax, -- which tax
  gross INTEGER NOT NULL, -- what of the sum that is held bears it, minor units
  amount INTEGER NOT NULL, -- the tax in that, minor units
  PRIMARY KEY (ticket, tax)
) STRICT;

ALTER TABLE person ADD COLUMN language TEXT NOT NULL DEFAULT ''; -- of their papers and messages (BCP 47); empty: the house's

ALTER TABLE category ADD COLUMN tasks INTEGER NOT NULL DEFAULT 0 CHECK (tasks IN (0, 1)); -- what lies in it can be done in a job
UPDATE category SET tasks = 1 WHERE id = 'tasks';

ALTER TABLE settings ADD COLUMN prep_places TEXT NOT NULL DEFAULT 'kitchen|bar'; -- where what is ordered is prepared, with a bar between

ALTER TABLE task ADD COLUMN surcharge INTEGER NOT NULL DEFAULT 0 CHECK (surcharge IN (0, 1)); -- it comes with others: nothing is left for it
