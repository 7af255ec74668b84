-- On a household's ticket a line says for which of them it is.
ALTER TABLE line ADD COLUMN member INTEGER REFERENCES person; -- of the household: for whom it is; null: not said
