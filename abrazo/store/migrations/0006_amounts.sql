-- A payer may give a stated amount, whoever had what; the others share the rest.
ALTER TABLE payer ADD COLUMN stated INTEGER CHECK (stated > 0);
