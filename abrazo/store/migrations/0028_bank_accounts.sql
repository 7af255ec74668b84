-- ==== Bank accounts that the payment service collects from; what comes back of it days later

ALTER TABLE card ADD COLUMN holder TEXT NOT NULL DEFAULT ''; -- whose bank account it is; empty: a card
ALTER TABLE card ADD COLUMN mandate TEXT NOT NULL DEFAULT ''; -- by which the service collects; empty: a card

INSERT INTO tender (id, name, kind, reference, is_on, position)
VALUES ('bank account', 'Stored bank account', 'stored card', '', 1, 35);

-- Charges of bank accounts that came back unpaid.
CREATE TABLE debit_back (
  payment INTEGER PRIMARY KEY REFERENCES payment, -- which charge
  reference TEXT NOT NULL UNIQUE, -- the service's, under which it stands in the batch
  machine TEXT NOT NULL, -- the service
  ticket INTEGER NOT NULL REFERENCES ticket, -- what it paid
  person INTEGER NOT NULL REFERENCES person, -- who owes it again
  amount INTEGER NOT NULL CHECK (amount > 0), -- minor units
  reason TEXT NOT NULL, -- the bank's, as the service tells it
  day INTEGER NOT NULL REFERENCES day, -- on which day it came back
  besides INTEGER NOT NULL CHECK (besides IN (0, 1)), -- owed beside the ticket, whose payment stays as it is
  at TEXT NOT NULL -- when we were told
) STRICT;
CREATE TRIGGER debit_back_stays BEFORE DELETE ON debit_back
  BEGIN SELECT RAISE(ABORT, 'what came back stays'); END;
