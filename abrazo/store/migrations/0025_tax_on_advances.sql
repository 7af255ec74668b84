-- ==== Tax on deposits, where it is owed when they are received

ALTER TABLE settings ADD COLUMN tax_on_advances INTEGER NOT NULL DEFAULT 0; -- tax on a deposit is owed when it is received

-- The taxes in a deposit: in the whole of it, and in what is held of it now.
CREATE TABLE advance_tax (
  line INTEGER NOT NULL REFERENCES line, -- which took the deposit
  tax TEXT NOT NULL REFERENCES tax, -- which tax
  gross INTEGER NOT NULL, -- what of the whole deposit bears it, minor units
  amount INTEGER NOT NULL, -- the tax in that, minor units
  held_gross INTEGER NOT NULL DEFAULT 0, -- what of the part that is held bears it, minor units
  held_amount INTEGER NOT NULL DEFAULT 0, -- the tax in that, minor units
  PRIMARY KEY (line, tax)
) STRICT;
