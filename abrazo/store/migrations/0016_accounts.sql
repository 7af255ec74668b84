-- ==== Accounts of companies, limits, reminders, what is written off

ALTER TABLE person ADD COLUMN account_limit INTEGER CHECK (account_limit >= 0); -- what may be owed on the account at most, minor units; NULL: no limit
ALTER TABLE person ADD COLUMN wants_reference INTEGER NOT NULL DEFAULT 0 CHECK (wants_reference IN (0, 1)); -- a purchase reference is asked for what is put on the account
ALTER TABLE payment ADD COLUMN account INTEGER REFERENCES person; -- on whose account it was put; NULL: it was paid
ALTER TABLE payment ADD COLUMN purchase_reference TEXT NOT NULL DEFAULT ''; -- the company's own, for what was put on its account
UPDATE payment SET account = (SELECT person FROM ticket WHERE ticket.id = payment.ticket) WHERE tender = 'account';
CREATE INDEX payment_account ON payment (account) WHERE account IS NOT NULL;

-- Who may put sums on a company's account.
CREATE TABLE account_member (
  id INTEGER PRIMARY KEY, -- order
  company INTEGER NOT NULL REFERENCES person, -- whose account
  person INTEGER NOT NULL REFERENCES person, -- who
  limit_amount INTEGER CHECK (limit_amount >= 0), -- what may be owed of what they put on it, minor units; NULL: no limit
  ended_at TEXT -- since when they may not any more
) STRICT;
CREATE UNIQUE INDEX account_member_once ON account_member (company, person) WHERE ended_at IS NULL;
CREATE INDEX account_member_person ON account_member (person) WHERE ended_at IS NULL;

-- What of invoices will never be paid.
CREATE TABLE write_off (
  id INTEGER PRIMARY KEY, -- order
  payment INTEGER NOT NULL REFERENCES payment, -- the invoice
  account INTEGER NOT NULL REFERENCES person, -- on whose account it stands
  amount INTEGER NOT NULL CHECK (amount > 0), -- minor units
  tax INTEGER NOT NULL, -- what of it is tax, minor units
  reason TEXT NOT NULL, -- free text
  at TEXT NOT NULL, -- when
  day INTEGER NOT NULL REFERENCES day, -- on which day
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who
  lender TEXT REFERENCES staff -- whose right it was
) STRICT;
CREATE INDEX write_off_payment ON write_off (payment);
CREATE TRIGGER write_off_is_not_changed BEFORE UPDATE ON write_off
  BEGIN SELECT RAISE(ABORT, 'what was written off stays so'); END;
CREATE TRIGGER write_off_is_not_removed BEFORE DELETE ON write_off
  BEGIN SELECT RAISE(ABORT, 'what was written off stays so'); END;

-- Reminders that were sent for invoices.
CREATE TABLE reminder (
  id INTEGER PRIMARY KEY, -- order
  payment INTEGER NOT NULL REFERENCES payment, -- the invoice
  step INTEGER NOT NULL CHECK (step > 0), -- the first, the second and so on
  at TEXT NOT NULL, -- when
  staff TEXT NOT NULL REFERENCES staff -- by whom
) STRICT;
CREATE INDEX reminder_payment ON reminder (payment);
ALTER TABLE settings ADD COLUMN reminder_days TEXT NOT NULL DEFAULT '7 21 35'; -- days after an invoice is due at which it is reminded of, first to last
