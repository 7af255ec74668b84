-- Goods in variants: one family, told apart by size and colour. `shelf` is where something lies.
CREATE TABLE family (id TEXT PRIMARY KEY, name TEXT NOT NULL, code TEXT UNIQUE) STRICT;
CREATE TABLE variant (
  item TEXT PRIMARY KEY REFERENCES item, family TEXT NOT NULL REFERENCES family, size TEXT NOT NULL, colour TEXT NOT NULL
) STRICT;
CREATE INDEX variant_family ON variant (family);
ALTER TABLE item ADD COLUMN shelf TEXT NOT NULL DEFAULT '';
-- What was counted; what is there is the last count less what stands on tickets since.
CREATE TABLE stock_count (
  id INTEGER PRIMARY KEY, item TEXT NOT NULL REFERENCES item, at TEXT NOT NULL, quantity TEXT NOT NULL,
  reason TEXT NOT NULL, staff TEXT NOT NULL REFERENCES staff, till TEXT NOT NULL REFERENCES till
) STRICT;
CREATE INDEX stock_count_item ON stock_count (item, id);
CREATE INDEX line_item ON line (item, added_at);
