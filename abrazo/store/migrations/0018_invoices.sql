-- ==== Invoices with numbers, and what they need to know of the house, its taxes and its customers

ALTER TABLE settings ADD COLUMN legal_name TEXT NOT NULL DEFAULT ''; -- of the house, as invoices have it; empty: its name
ALTER TABLE settings ADD COLUMN country TEXT NOT NULL DEFAULT ''; -- ISO 3166, of the house's address; empty: the region of its phone numbers
ALTER TABLE settings ADD COLUMN tax_number TEXT NOT NULL DEFAULT ''; -- as the authority gave it; empty: none
ALTER TABLE settings ADD COLUMN invoice_prefix TEXT NOT NULL DEFAULT 'I-'; -- before an invoice's number
ALTER TABLE settings ADD COLUMN credit_prefix TEXT NOT NULL DEFAULT 'C-'; -- before a credit note's number
ALTER TABLE tax ADD COLUMN category TEXT CHECK (category IN ('S', 'Z', 'E', 'O')); -- EN 16931, BT-118; NULL: no invoice as data
ALTER TABLE tax ADD COLUMN exemption TEXT NOT NULL DEFAULT ''; -- why nothing is taxed, as invoices say it
ALTER TABLE person ADD COLUMN legal_name TEXT NOT NULL DEFAULT ''; -- as invoices have it; empty: the name
ALTER TABLE person ADD COLUMN address TEXT NOT NULL DEFAULT ''; -- one line
ALTER TABLE person ADD COLUMN country TEXT NOT NULL DEFAULT ''; -- ISO 3166; empty: the house's
ALTER TABLE person ADD COLUMN tax_number TEXT NOT NULL DEFAULT ''; -- as the authority gave it; empty: none

-- Invoices and credit notes as they were made; none is ever changed or removed.
CREATE TABLE invoice (
  id INTEGER PRIMARY KEY, -- order
  kind TEXT NOT NULL CHECK (kind IN ('invoice', 'credit note')), -- what it is
  number INTEGER NOT NULL, -- which of its kind, from 1 without gaps
  ticket INTEGER NOT NULL REFERENCES ticket, -- on which it was sold
  payer INTEGER NOT NULL REFERENCES payer, -- whose part it is
  buyer INTEGER REFERENCES person, -- to whom it is made; NULL: somebody who is not known
  credits INTEGER REFERENCES invoice, -- which invoice it takes back, of a credit note
  refund INTEGER REFERENCES refund, -- the refund that it is for; NULL: all of it is taken back
  at TEXT NOT NULL, -- when
  day INTEGER NOT NULL REFERENCES day, -- on which day
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who
  document TEXT NOT NULL CHECK (json_valid(document)), -- what it says, as JSON
  UNIQUE (kind, number)
) STRICT;
CREATE INDEX invoice_ticket ON invoice (ticket);
CREATE INDEX invoice_buyer ON invoice (buyer) WHERE buyer IS NOT NULL;
CREATE INDEX invoice_credits ON invoice (credits) WHERE credits IS NOT NULL;
CREATE TRIGGER invoice_is_not_changed BEFORE UPDATE ON invoice
  BEGIN SELECT RAISE(ABORT, 'an invoice stays as it was made'); END;
CREATE TRIGGER invoice_is_not_removed BEFORE DELETE ON invoice
  BEGIN SELECT RAISE(ABORT, 'an invoice stays as it was made'); END;
