-- Money is whole minor units. Times are ISO 8601 in the house's own time. Rates, percents and quantities are decimal text.

CREATE TABLE setting (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;

CREATE TABLE staff (
  id TEXT PRIMARY KEY, name TEXT NOT NULL,
  role TEXT NOT NULL CHECK (role IN ('server', 'clerk', 'supervisor')),
  title TEXT NOT NULL, pin_hash TEXT NOT NULL,
  fails INTEGER NOT NULL DEFAULT 0, locked_until TEXT
) STRICT;

CREATE TABLE till (id TEXT PRIMARY KEY, name TEXT NOT NULL, machine TEXT NOT NULL) STRICT;

CREATE TABLE day (
  id INTEGER PRIMARY KEY, business_date TEXT NOT NULL, opened_at TEXT NOT NULL,
  opened_by TEXT NOT NULL REFERENCES staff, closed_at TEXT
) STRICT;
CREATE UNIQUE INDEX one_open_day ON day ((closed_at IS NULL)) WHERE closed_at IS NULL;

CREATE TABLE day_till (
  day INTEGER NOT NULL REFERENCES day, till TEXT NOT NULL REFERENCES till, float_amount INTEGER NOT NULL,
  PRIMARY KEY (day, till)
) STRICT;

CREATE TABLE tax (id TEXT PRIMARY KEY, label TEXT NOT NULL, rate TEXT NOT NULL, position INTEGER NOT NULL) STRICT;
CREATE TABLE denomination (value INTEGER PRIMARY KEY, is_note INTEGER NOT NULL) STRICT;

CREATE TABLE category (id TEXT PRIMARY KEY, name TEXT NOT NULL, icon TEXT NOT NULL, position INTEGER NOT NULL) STRICT;
CREATE TABLE item (
  id TEXT PRIMARY KEY, number INTEGER NOT NULL UNIQUE, name TEXT NOT NULL,
  category TEXT NOT NULL REFERENCES category, price INTEGER NOT NULL CHECK (price >= 0),
  tax TEXT REFERENCES tax, place TEXT NOT NULL, report_group TEXT NOT NULL, position INTEGER NOT NULL
) STRICT;
CREATE TABLE choice_group (
  id TEXT PRIMARY KEY, name TEXT NOT NULL, least INTEGER NOT NULL, most INTEGER NOT NULL CHECK (most >= least)
) STRICT;
CREATE TABLE choice (
  id TEXT PRIMARY KEY, choice_group TEXT NOT NULL REFERENCES choice_group, label TEXT NOT NULL,
  price INTEGER NOT NULL, position INTEGER NOT NULL
) STRICT;
CREATE TABLE item_group (
  item TEXT NOT NULL REFERENCES item, choice_group TEXT NOT NULL REFERENCES choice_group, position INTEGER NOT NULL,
  PRIMARY KEY (item, choice_group)
) STRICT;

CREATE TABLE spot (
  id TEXT PRIMARY KEY, name TEXT NOT NULL, area TEXT NOT NULL,
  shape TEXT NOT NULL CHECK (shape IN ('round', 'square', 'stool')),
  x INTEGER NOT NULL, y INTEGER NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL, seats INTEGER NOT NULL
) STRICT;

CREATE TABLE ticket (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, spot TEXT REFERENCES spot,
  staff TEXT NOT NULL REFERENCES staff, till TEXT NOT NULL REFERENCES till, day INTEGER NOT NULL REFERENCES day,
  opened_at TEXT NOT NULL, bill_asked_at TEXT, closed_at TEXT,
  state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'closed', 'left')),
  split TEXT NOT NULL DEFAULT 'shares' CHECK (split IN ('shares', 'equal')),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE UNIQUE INDEX one_open_ticket_a_spot ON ticket (spot) WHERE state = 'open';
CREATE INDEX ticket_state ON ticket (state, closed_at);
CREATE INDEX ticket_day ON ticket (day);

CREATE TABLE payer (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, letter TEXT NOT NULL, position INTEGER NOT NULL,
  tip_percent TEXT, tip_amount INTEGER, settled_at TEXT, gone_at TEXT
) STRICT;
CREATE INDEX payer_ticket ON payer (ticket);

-- What a settled payer keeps, whatever happens to the ticket later.
CREATE TABLE kept (
  payer INTEGER NOT NULL REFERENCES payer, kind TEXT NOT NULL CHECK (kind IN ('line', 'charge', 'tax', 'memo')),
  ref TEXT NOT NULL, amount INTEGER NOT NULL, PRIMARY KEY (payer, kind, ref)
) STRICT;

CREATE TABLE guest (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, letter TEXT NOT NULL, name TEXT,
  payer INTEGER REFERENCES payer, UNIQUE (ticket, letter)
) STRICT;

CREATE TABLE line (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, item TEXT NOT NULL REFERENCES item,
  label TEXT NOT NULL, unit_price INTEGER NOT NULL, quantity TEXT NOT NULL, tax TEXT REFERENCES tax,
  report_group TEXT NOT NULL, staff TEXT NOT NULL REFERENCES staff, note TEXT NOT NULL,
  added_at TEXT NOT NULL, removed_at TEXT, removed_by TEXT REFERENCES staff
) STRICT;
CREATE INDEX line_ticket ON line (ticket);
CREATE TABLE line_choice (
  line INTEGER NOT NULL REFERENCES line, position INTEGER NOT NULL, label TEXT NOT NULL, price INTEGER NOT NULL,
  PRIMARY KEY (line, position)
) STRICT;
CREATE TABLE line_share (
  line INTEGER NOT NULL REFERENCES line, guest INTEGER NOT NULL REFERENCES guest, weight INTEGER NOT NULL,
  PRIMARY KEY (line, guest)
) STRICT;
CREATE TABLE charge (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, label TEXT NOT NULL, percent TEXT NOT NULL,
  tax TEXT REFERENCES tax, share TEXT NOT NULL CHECK (share IN ('proportional', 'even'))
) STRICT;
CREATE INDEX charge_ticket ON charge (ticket);

CREATE TABLE payment (
  id INTEGER PRIMARY KEY, ticket INTEGER NOT NULL REFERENCES ticket, payer INTEGER NOT NULL REFERENCES payer,
  day INTEGER NOT NULL REFERENCES day, till TEXT NOT NULL REFERENCES till, staff TEXT NOT NULL REFERENCES staff,
  at TEXT NOT NULL, tender TEXT NOT NULL, route TEXT NOT NULL,
  amount INTEGER NOT NULL, tip INTEGER NOT NULL, tendered INTEGER,
  machine TEXT, brand TEXT, last_four TEXT, reference TEXT UNIQUE,
  taken_back_at TEXT, taken_back_by TEXT REFERENCES staff
) STRICT;
CREATE INDEX payment_ticket ON payment (ticket);
CREATE INDEX payment_day ON payment (day, till);

-- A charge, or a refund of one, on a card machine: asked, under way, and how it ended.
CREATE TABLE card_ask (
  reference TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('charge', 'refund')),
  ticket INTEGER NOT NULL REFERENCES ticket, payer INTEGER NOT NULL REFERENCES payer,
  payment INTEGER REFERENCES payment, machine TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0),
  tip INTEGER NOT NULL, ask_tip INTEGER NOT NULL, till TEXT NOT NULL REFERENCES till,
  staff TEXT NOT NULL REFERENCES staff, asked_at TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('asked', 'sent', 'unknown', 'approved', 'declined', 'cancelled', 'not sent')),
  step TEXT NOT NULL, said TEXT NOT NULL, ended_at TEXT
) STRICT;
CREATE UNIQUE INDEX one_open_ask_a_payer ON card_ask (payer) WHERE state IN ('asked', 'sent', 'unknown');
CREATE UNIQUE INDEX one_busy_ask_a_machine ON card_ask (machine) WHERE state IN ('asked', 'sent');
CREATE INDEX card_ask_ticket ON card_ask (ticket);
CREATE INDEX card_ask_open ON card_ask (state) WHERE state IN ('asked', 'sent', 'unknown');

-- A request that was carried out, so that the same one sent again answers the same and does nothing.
CREATE TABLE act (key TEXT PRIMARY KEY, kind TEXT NOT NULL, at TEXT NOT NULL, answer TEXT NOT NULL) STRICT;

CREATE TABLE journal (
  number INTEGER PRIMARY KEY, previous TEXT NOT NULL, hash TEXT NOT NULL UNIQUE,
  at TEXT NOT NULL, day INTEGER NOT NULL REFERENCES day,
  till TEXT NOT NULL REFERENCES till, staff TEXT NOT NULL REFERENCES staff,
  ticket INTEGER REFERENCES ticket, version INTEGER, kind TEXT NOT NULL, facts TEXT NOT NULL
) STRICT;
CREATE INDEX journal_ticket ON journal (ticket, version);
CREATE TABLE journal_text (
  entry INTEGER NOT NULL REFERENCES journal, name TEXT NOT NULL, salt TEXT NOT NULL, hash TEXT NOT NULL,
  text TEXT NOT NULL, PRIMARY KEY (entry, name)
) STRICT;
CREATE TABLE posting (
  entry INTEGER NOT NULL REFERENCES journal, account TEXT NOT NULL, amount INTEGER NOT NULL,
  PRIMARY KEY (entry, account)
) STRICT;
CREATE TRIGGER journal_text_keeps_its_hash BEFORE UPDATE OF entry, name, salt, hash ON journal_text
  BEGIN SELECT RAISE(ABORT, 'a text may be erased, its hash stays'); END;
CREATE TRIGGER journal_text_is_not_removed BEFORE DELETE ON journal_text
  BEGIN SELECT RAISE(ABORT, 'texts are erased, not removed'); END;

CREATE TRIGGER journal_is_not_changed BEFORE UPDATE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
CREATE TRIGGER journal_is_not_shortened BEFORE DELETE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
CREATE TRIGGER posting_is_not_changed BEFORE UPDATE ON posting BEGIN SELECT RAISE(ABORT, 'postings are append-only'); END;
CREATE TRIGGER posting_is_not_removed BEFORE DELETE ON posting BEGIN SELECT RAISE(ABORT, 'postings are append-only'); END;
CREATE TRIGGER payment_is_not_removed BEFORE DELETE ON payment BEGIN SELECT RAISE(ABORT, 'payments are not deleted'); END;
CREATE TRIGGER payment_keeps_its_figures BEFORE UPDATE OF ticket, payer, day, till, staff, at, tender, route, amount, tip,
  tendered, machine, reference ON payment BEGIN SELECT RAISE(ABORT, 'payments keep their figures'); END;
CREATE TRIGGER line_is_not_deleted BEFORE DELETE ON line BEGIN SELECT RAISE(ABORT, 'lines are struck through, not deleted'); END;

-- Work for the printer, sent after the commit that asked for it.
CREATE TABLE outbox (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, device TEXT NOT NULL, title TEXT NOT NULL, body TEXT NOT NULL,
  copy INTEGER NOT NULL, about TEXT NOT NULL, sent_at TEXT, fault TEXT
) STRICT;
CREATE INDEX outbox_waiting ON outbox (device) WHERE sent_at IS NULL;
CREATE INDEX outbox_about ON outbox (about);
