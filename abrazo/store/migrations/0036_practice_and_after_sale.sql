-- Practice on a copy, what happens after a sale, a logo on receipts, and who is shown which items.

ALTER TABLE settings ADD COLUMN practice INTEGER NOT NULL DEFAULT 0 CHECK (practice IN (0, 1)); -- this file is a copy on which somebody practises
ALTER TABLE staff ADD COLUMN in_training INTEGER NOT NULL DEFAULT 0 CHECK (in_training IN (0, 1)); -- signs in to practise, and for nothing else
