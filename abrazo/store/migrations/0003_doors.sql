-- Every door into a ticket: people, bookings, the walk-in queue, jobs with deposits, tabs with held cards.

CREATE TABLE household (id INTEGER PRIMARY KEY, name TEXT NOT NULL) STRICT;
CREATE TABLE person (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, phone TEXT, email TEXT, birthday TEXT,
  household INTEGER REFERENCES household, company INTEGER NOT NULL DEFAULT 0, notes TEXT NOT NULL DEFAULT '',
  since TEXT NOT NULL, words TEXT NOT NULL
) STRICT;
CREATE INDEX person_begins ON person (words);
CREATE INDEX person_household ON person (household) WHERE household IS NOT NULL;
-- Any part of a name, phone or e-mail: three letters at a time.
CREATE VIRTUAL TABLE person_words USING fts5 (words, content = 'person', content_rowid = 'id', tokenize = 'trigram');
CREATE TRIGGER person_is_found AFTER INSERT ON person BEGIN
  INSERT INTO person_words (rowid, words) VALUES (new.id, new.words);
END;
CREATE TRIGGER person_is_found_anew AFTER UPDATE OF words ON person BEGIN
  INSERT INTO person_words (person_words, rowid, words) VALUES ('delete', old.id, old.words);
  INSERT INTO person_words (rowid, words) VALUES (new.id, new.words);
END;

-- A service has minutes, goods may have a code; unit is empty for pieces, else kg or m.
ALTER TABLE item ADD COLUMN minutes INTEGER;
ALTER TABLE item ADD COLUMN code TEXT;
ALTER TABLE item ADD COLUMN unit TEXT NOT NULL DEFAULT '';
CREATE UNIQUE INDEX item_code ON item (code) WHERE code IS NOT NULL;

-- What a till is for: the room with its tables and bar, or the desk with bookings and jobs.
ALTER TABLE till ADD COLUMN home TEXT NOT NULL DEFAULT 'room';

ALTER TABLE ticket ADD COLUMN source TEXT NOT NULL DEFAULT 'table';
ALTER TABLE ticket ADD COLUMN person INTEGER REFERENCES person;
ALTER TABLE ticket ADD COLUMN name TEXT;
ALTER TABLE ticket ADD COLUMN held_at TEXT;
ALTER TABLE ticket ADD COLUMN promised_at TEXT;
CREATE INDEX ticket_person ON ticket (person) WHERE person IS NOT NULL;

CREATE TABLE booking (
  id INTEGER PRIMARY KEY, uid TEXT NOT NULL UNIQUE, person INTEGER REFERENCES person, name TEXT NOT NULL,
  service TEXT NOT NULL REFERENCES item, staff TEXT NOT NULL REFERENCES staff,
  starts_at TEXT NOT NULL, ends_at TEXT NOT NULL, price INTEGER CHECK (price >= 0), note TEXT NOT NULL DEFAULT '',
  state TEXT NOT NULL DEFAULT 'booked' CHECK (state IN ('booked', 'here', 'absent', 'cancelled')),
  ticket INTEGER REFERENCES ticket, made_at TEXT NOT NULL
) STRICT;
CREATE INDEX booking_starts ON booking (starts_at);
CREATE INDEX booking_person ON booking (person, starts_at);
CREATE TABLE booking_addon (
  booking INTEGER NOT NULL REFERENCES booking, position INTEGER NOT NULL, item TEXT NOT NULL REFERENCES item,
  PRIMARY KEY (booking, position)
) STRICT;

CREATE TABLE walk_in (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, phone TEXT, person INTEGER REFERENCES person, wants TEXT NOT NULL,
  at TEXT NOT NULL, state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'served', 'left')),
  ticket INTEGER REFERENCES ticket
) STRICT;
CREATE INDEX walk_in_waiting ON walk_in (at) WHERE state = 'waiting';

CREATE TABLE job (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, person INTEGER NOT NULL REFERENCES person,
  thing TEXT NOT NULL, note TEXT NOT NULL, due_at TEXT NOT NULL, place TEXT NOT NULL,
  staff TEXT REFERENCES staff, state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'in work', 'ready')),
  dropped_at TEXT NOT NULL, dropped_by TEXT NOT NULL REFERENCES staff, ready_at TEXT,
  dropped_on INTEGER REFERENCES ticket, settled_on INTEGER REFERENCES ticket
) STRICT;
CREATE INDEX job_person ON job (person);
CREATE TABLE task (
  id INTEGER PRIMARY KEY, job INTEGER NOT NULL REFERENCES job, item TEXT NOT NULL REFERENCES item, label TEXT NOT NULL,
  unit_price INTEGER NOT NULL, quantity TEXT NOT NULL, unit TEXT NOT NULL, pieces INTEGER NOT NULL CHECK (pieces > 0)
) STRICT;
CREATE INDEX task_job ON task (job);
CREATE TABLE handover (
  id INTEGER PRIMARY KEY, job INTEGER NOT NULL REFERENCES job, task INTEGER NOT NULL REFERENCES task,
  pieces INTEGER NOT NULL CHECK (pieces > 0), note TEXT NOT NULL, at TEXT NOT NULL, staff TEXT NOT NULL REFERENCES staff,
  undone_at TEXT, undone_by TEXT REFERENCES staff
) STRICT;
CREATE INDEX handover_job ON handover (job);
CREATE TRIGGER handover_is_not_removed BEFORE DELETE ON handover BEGIN SELECT RAISE(ABORT, 'hand-overs are not deleted'); END;

-- Lines remember the door they came through; a deposit is a line of the report group 'deposit' with its job.
ALTER TABLE line ADD COLUMN unit TEXT NOT NULL DEFAULT '';
ALTER TABLE line ADD COLUMN booking INTEGER REFERENCES booking;
ALTER TABLE line ADD COLUMN job INTEGER REFERENCES job;
CREATE INDEX line_job ON line (job) WHERE job IS NOT NULL;
ALTER TABLE charge ADD COLUMN amount INTEGER;
-- The deposit line that a payment uses up, or that money paid out gives back.
ALTER TABLE payment ADD COLUMN deposit INTEGER REFERENCES line;
CREATE INDEX payment_deposit ON payment (deposit) WHERE deposit IS NOT NULL;
ALTER TABLE petty ADD COLUMN deposit INTEGER REFERENCES line;
CREATE INDEX petty_deposit ON petty (deposit) WHERE deposit IS NOT NULL;

-- Cards held for tabs. Never a card number: brand, last four, expiry, token.
CREATE TABLE hold (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, machine TEXT NOT NULL, reference TEXT NOT NULL UNIQUE,
  amount INTEGER NOT NULL CHECK (amount > 0), brand TEXT NOT NULL, last_four TEXT NOT NULL, expiry TEXT NOT NULL,
  token TEXT NOT NULL, held_at TEXT NOT NULL, lapses_at TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'held' CHECK (state IN ('held', 'used', 'released')), ended_at TEXT
) STRICT;
CREATE INDEX hold_ticket ON hold (ticket);

-- What is asked of a machine may now also be a hold, its capture or its release.
ALTER TABLE card_ask RENAME TO card_ask_before;
CREATE TABLE card_ask (
  reference TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('charge', 'refund', 'hold', 'capture', 'release')),
  ticket INTEGER NOT NULL REFERENCES ticket, payer INTEGER NOT NULL REFERENCES payer,
  payment INTEGER REFERENCES payment, machine TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0),
  tip INTEGER NOT NULL, ask_tip INTEGER NOT NULL, till TEXT NOT NULL REFERENCES till,
  staff TEXT NOT NULL REFERENCES staff, asked_at TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('asked', 'sent', 'unknown', 'approved', 'declined', 'cancelled', 'not sent')),
  step TEXT NOT NULL, said TEXT NOT NULL, ended_at TEXT, hold INTEGER REFERENCES hold
) STRICT;
INSERT INTO card_ask SELECT *, NULL FROM card_ask_before;
DROP TABLE card_ask_before;
CREATE UNIQUE INDEX one_open_ask_a_payer ON card_ask (payer) WHERE state IN ('asked', 'sent', 'unknown');
CREATE UNIQUE INDEX one_busy_ask_a_machine ON card_ask (machine) WHERE state IN ('asked', 'sent');
CREATE INDEX card_ask_ticket ON card_ask (ticket);
CREATE INDEX card_ask_open ON card_ask (state) WHERE state IN ('asked', 'sent', 'unknown');

-- What somebody owes is the balance of an account.
CREATE INDEX posting_account ON posting (account);

-- Papers may carry a barcode under their text; messages go to somebody.
ALTER TABLE outbox ADD COLUMN barcode TEXT NOT NULL DEFAULT '';
ALTER TABLE outbox ADD COLUMN recipient TEXT NOT NULL DEFAULT '';

-- The item of lines that the catalogue does not know; each line says what it is, and its kind fixes the tax.
INSERT INTO category (id, name, icon, position) VALUES ('unlisted', 'Unlisted', 'plus', 9999);
INSERT INTO item (id, number, name, category, price, tax, place, report_group, position)
VALUES ('unlisted', 0, 'Unlisted item', 'unlisted', 0, NULL, '', 'unlisted', 9999);
