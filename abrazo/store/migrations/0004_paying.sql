-- Paying in full: cards at the payment service, tenders of the house, stored value, corrections after closing, receipts.

-- Cards that the payment service knows: brand, last four, expiry, token; never a number. Without a person it was keyed
-- for one payment only.
CREATE TABLE card (
  id INTEGER PRIMARY KEY, person INTEGER REFERENCES person, token TEXT NOT NULL UNIQUE, brand TEXT NOT NULL,
  last_four TEXT NOT NULL CHECK (length(last_four) = 4), expiry TEXT NOT NULL, added_at TEXT NOT NULL,
  added_by TEXT NOT NULL REFERENCES staff, ended_at TEXT
) STRICT;
CREATE INDEX card_person ON card (person) WHERE person IS NOT NULL;
-- Tries to key a card, so that nobody can guess numbers here.
CREATE TABLE keyed_try (at TEXT NOT NULL, till TEXT NOT NULL REFERENCES till, staff TEXT NOT NULL REFERENCES staff) STRICT;
CREATE INDEX keyed_try_at ON keyed_try (till, at);

-- Ways to pay: which are on, and in which order. `kind` is what the application does; the house may add recorded ones.
CREATE TABLE tender (
  id TEXT PRIMARY KEY, name TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL CHECK (kind IN ('cash', 'machine', 'keyed', 'stored card', 'recorded', 'gift card', 'voucher',
                                     'store credit', 'points', 'account')),
  reference TEXT NOT NULL, is_on INTEGER NOT NULL, position INTEGER NOT NULL
) STRICT;
INSERT INTO tender (id, name, kind, reference, is_on, position) VALUES
  ('card', 'Card machine', 'machine', '', 1, 10),
  ('keyed card', 'Keyed card', 'keyed', '', 1, 20),
  ('stored card', 'Stored card', 'stored card', '', 1, 30),
  ('cash', 'Cash', 'cash', '', 1, 40),
  ('cheque', 'Cheque', 'recorded', 'The cheque''s number', 1, 50),
  ('card elsewhere', 'Another card machine', 'recorded', 'Brand and number of the slip', 1, 60),
  ('other voucher', 'Other voucher', 'recorded', 'The voucher''s number', 1, 70),
  ('voucher', 'Our voucher', 'voucher', '', 1, 80),
  ('gift card', 'Gift card', 'gift card', '', 1, 90),
  ('store credit', 'Store credit', 'store credit', '', 1, 100),
  ('points', 'Points', 'points', '', 1, 110),
  ('account', 'On account', 'account', '', 1, 120);

-- Gift cards and vouchers by number, store credit by person. What is on one is reckoned from lines and payments.
CREATE TABLE stored (
  id INTEGER PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('gift card', 'voucher', 'store credit')),
  code TEXT UNIQUE, person INTEGER REFERENCES person, made_at TEXT NOT NULL, made_by TEXT NOT NULL REFERENCES staff,
  good_until TEXT
) STRICT;
CREATE UNIQUE INDEX one_credit_a_person ON stored (person) WHERE kind = 'store credit';
ALTER TABLE line ADD COLUMN stored INTEGER REFERENCES stored;
CREATE INDEX line_stored ON line (stored) WHERE stored IS NOT NULL;
-- Points of people: earned when a ticket closes, spent by a payment, both turned round when that is taken back.
CREATE TABLE points (
  id INTEGER PRIMARY KEY, person INTEGER NOT NULL REFERENCES person, ticket INTEGER NOT NULL REFERENCES ticket,
  payment INTEGER REFERENCES payment, points INTEGER NOT NULL, at TEXT NOT NULL
) STRICT;
CREATE INDEX points_person ON points (person);
CREATE TRIGGER points_are_not_changed BEFORE UPDATE ON points BEGIN SELECT RAISE(ABORT, 'points are append-only'); END;
CREATE TRIGGER points_are_not_removed BEFORE DELETE ON points BEGIN SELECT RAISE(ABORT, 'points are append-only'); END;

-- `extra`: what is above the bill became tip or store credit. `tip_of`: a tip added later to the charge of a payment.
-- A payment taken back later says on which day and at which till the money went back.
ALTER TABLE payment ADD COLUMN extra TEXT CHECK (extra IN ('tip', 'credit'));
ALTER TABLE payment ADD COLUMN credit INTEGER NOT NULL DEFAULT 0;
ALTER TABLE payment ADD COLUMN card INTEGER REFERENCES card;
ALTER TABLE payment ADD COLUMN stored INTEGER REFERENCES stored;
ALTER TABLE payment ADD COLUMN tip_of INTEGER REFERENCES payment;
ALTER TABLE payment ADD COLUMN signature TEXT NOT NULL DEFAULT '' CHECK (signature IN ('', 'wanted', 'paper', 'screen'));
ALTER TABLE payment ADD COLUMN back_day INTEGER REFERENCES day;
ALTER TABLE payment ADD COLUMN back_till TEXT REFERENCES till;
CREATE INDEX payment_stored ON payment (stored) WHERE stored IS NOT NULL;
CREATE INDEX payment_back ON payment (back_day) WHERE back_day IS NOT NULL;
CREATE INDEX payment_amount ON payment (amount);
UPDATE payment SET back_day = day, back_till = till WHERE taken_back_at IS NOT NULL;
DROP TRIGGER payment_keeps_its_figures;
CREATE TRIGGER payment_keeps_its_figures BEFORE UPDATE OF ticket, payer, day, till, staff, at, tender, route, amount, tip,
  tendered, machine, reference, extra, credit, card, stored, tip_of ON payment
BEGIN SELECT RAISE(ABORT, 'payments keep their figures'); END;
CREATE TABLE signature (
  payment INTEGER PRIMARY KEY REFERENCES payment, svg TEXT NOT NULL, at TEXT NOT NULL, staff TEXT NOT NULL REFERENCES staff
) STRICT;
CREATE TRIGGER signature_is_not_changed BEFORE UPDATE ON signature BEGIN SELECT RAISE(ABORT, 'signatures stay'); END;
CREATE TRIGGER signature_is_not_removed BEFORE DELETE ON signature BEGIN SELECT RAISE(ABORT, 'signatures stay'); END;

-- Money given back for a closed ticket: the ticket and its payments stay as they were.
CREATE TABLE refund (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, payment INTEGER NOT NULL REFERENCES payment,
  amount INTEGER NOT NULL CHECK (amount > 0), lines TEXT NOT NULL, reason TEXT NOT NULL, route TEXT NOT NULL,
  day INTEGER NOT NULL REFERENCES day, till TEXT NOT NULL REFERENCES till, staff TEXT NOT NULL REFERENCES staff,
  lender TEXT REFERENCES staff, at TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('asked', 'done', 'not done'))
) STRICT;
CREATE INDEX refund_ticket ON refund (ticket);
CREATE INDEX refund_day ON refund (day);
CREATE TRIGGER refund_is_not_removed BEFORE DELETE ON refund BEGIN SELECT RAISE(ABORT, 'refunds are not deleted'); END;

-- A closed ticket opened again, made void, or a correction handed on to a supervisor.
ALTER TABLE ticket ADD COLUMN reopened_at TEXT;
ALTER TABLE ticket ADD COLUMN voiding_at TEXT;
ALTER TABLE ticket ADD COLUMN voided_at TEXT;
CREATE TABLE correction (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, payment INTEGER REFERENCES payment,
  kind TEXT NOT NULL CHECK (kind IN ('reopened', 'void', 'handed on')), reason TEXT NOT NULL,
  of_day INTEGER NOT NULL REFERENCES day, day INTEGER NOT NULL REFERENCES day, till TEXT NOT NULL REFERENCES till,
  staff TEXT NOT NULL REFERENCES staff, lender TEXT REFERENCES staff, at TEXT NOT NULL, done_at TEXT
) STRICT;
CREATE INDEX correction_ticket ON correction (ticket);
CREATE INDEX correction_of_day ON correction (of_day);
CREATE INDEX correction_day ON correction (day);
DROP INDEX one_open_ticket_a_spot;
CREATE UNIQUE INDEX one_open_ticket_a_spot ON ticket (spot) WHERE state = 'open' AND reopened_at IS NULL;
CREATE INDEX ticket_closed ON ticket (closed_at) WHERE state = 'closed';

-- A receipt goes the way that a person prefers.
ALTER TABLE person ADD COLUMN receipt_by TEXT NOT NULL DEFAULT '';

-- What is asked of a machine may now also be a tip added to a charge, or something of the payment service.
ALTER TABLE card_ask RENAME TO card_ask_before;
CREATE TABLE card_ask (
  reference TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('charge', 'refund', 'hold', 'capture', 'release', 'tip')),
  ticket INTEGER NOT NULL REFERENCES ticket, payer INTEGER NOT NULL REFERENCES payer,
  payment INTEGER REFERENCES payment, machine TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0),
  tip INTEGER NOT NULL, ask_tip INTEGER NOT NULL, till TEXT NOT NULL REFERENCES till,
  staff TEXT NOT NULL REFERENCES staff, asked_at TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('asked', 'sent', 'unknown', 'approved', 'declined', 'cancelled', 'not sent')),
  step TEXT NOT NULL, said TEXT NOT NULL, ended_at TEXT, hold INTEGER REFERENCES hold,
  card INTEGER REFERENCES card, refund INTEGER REFERENCES refund, extra TEXT CHECK (extra IN ('tip', 'credit')),
  credit INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO card_ask SELECT *, NULL, NULL, NULL, 0 FROM card_ask_before;
DROP TABLE card_ask_before;
CREATE UNIQUE INDEX one_open_ask_a_payer ON card_ask (payer) WHERE state IN ('asked', 'sent', 'unknown');
CREATE UNIQUE INDEX one_busy_ask_a_machine ON card_ask (machine)
  WHERE state IN ('asked', 'sent') AND machine <> 'payment service';
CREATE INDEX card_ask_ticket ON card_ask (ticket);
CREATE INDEX card_ask_open ON card_ask (state) WHERE state IN ('asked', 'sent', 'unknown');
