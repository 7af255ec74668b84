-- A house from its first day. docs/data.md is made from the comments of this file: one above each table, one beside
-- each column. Money is whole minor units. `..._at` is UTC (ISO 8601, with Z), but for bookings, due times and orders,
-- which are wall time of the house. Rates, percents and quantities are decimal text. Flags are 0 or 1.

-- ==== The house

-- What the house has decided: one row.
CREATE TABLE settings (
  id INTEGER PRIMARY KEY CHECK (id = 1), -- always 1
  name TEXT NOT NULL, -- of the house, as it stands on its papers
  address TEXT NOT NULL, -- one line on its papers
  message TEXT NOT NULL, -- at the end of a receipt
  currency TEXT NOT NULL CHECK (length(currency) = 3), -- ISO 4217
  tax_mode TEXT NOT NULL CHECK (tax_mode IN ('inclusive', 'exclusive')), -- prices contain tax, or it is added
  cash_rounding INTEGER NOT NULL CHECK (cash_rounding > 0), -- the least sum in cash, minor units
  region TEXT NOT NULL CHECK (length(region) = 2), -- ISO 3166: how phone numbers without country code are read
  zone TEXT NOT NULL, -- IANA name of the house's time zone
  service_percent TEXT NOT NULL, -- service charge of large parties
  service_from INTEGER NOT NULL, -- guests from which a party bears it
  service_tax TEXT REFERENCES tax DEFERRABLE INITIALLY DEFERRED, -- of service charges; NULL: untaxed
  delivery_tax TEXT REFERENCES tax DEFERRABLE INITIALLY DEFERRED, -- of delivery fees
  surcharge_tax TEXT REFERENCES tax DEFERRABLE INITIALLY DEFERRED, -- of a ticket's surcharges
  delivery_fee INTEGER NOT NULL DEFAULT 400 CHECK (delivery_fee >= 0), -- for bringing an order, unless said otherwise
  tab_hold INTEGER NOT NULL DEFAULT 3000 CHECK (tab_hold >= 0), -- held on a card for a tab, unless said otherwise
  points_per INTEGER NOT NULL DEFAULT 100 CHECK (points_per > 0), -- minor units of net that earn a point
  points_lot INTEGER NOT NULL DEFAULT 100 CHECK (points_lot > 0), -- points that are spent together
  points_value INTEGER NOT NULL DEFAULT 500 CHECK (points_value > 0), -- minor units that a lot is worth
  tips_to TEXT NOT NULL DEFAULT 'staff' CHECK (tips_to IN ('staff', 'pool')), -- whose the tips of new tickets are
  send_at_once INTEGER NOT NULL DEFAULT 0 CHECK (send_at_once IN (0, 1)), -- lines go to their places as they are picked
  free_after INTEGER CHECK (free_after > 0), -- minutes until a paid table is freed by itself; NULL: by hand
  show_removed INTEGER NOT NULL DEFAULT 0 CHECK (show_removed IN (0, 1)), -- receipts show removed lines
  patience REAL NOT NULL DEFAULT 8 CHECK (patience > 0), -- seconds of silence before a card machine gave no answer
  clock_shift REAL NOT NULL DEFAULT 0, -- seconds that the house's clock runs beside the machine's
  secret TEXT NOT NULL, -- signs sessions
  demo INTEGER NOT NULL DEFAULT 0 CHECK (demo IN (0, 1)), -- an invented house
  ready INTEGER NOT NULL DEFAULT 0 CHECK (ready IN (0, 1)) -- it was set up to the end
) STRICT;

-- Who works here.
CREATE TABLE staff (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as papers show it
  role TEXT NOT NULL CHECK (role IN ('server', 'clerk', 'supervisor')), -- which rights they have
  title TEXT NOT NULL, -- what they do here
  pin_hash TEXT NOT NULL, -- Argon2id
  pin_digits INTEGER NOT NULL DEFAULT 4, -- how long the PIN is: the last digit signs in by itself
  wrong_pins INTEGER NOT NULL DEFAULT 0, -- one after the other
  locked_until TEXT, -- when another PIN may be tried
  counter_only INTEGER NOT NULL DEFAULT 0 CHECK (counter_only IN (0, 1)) -- works in counter mode only
) STRICT;

-- Places with a drawer and a card machine.
CREATE TABLE till (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  machine TEXT NOT NULL, -- its card machine
  home TEXT NOT NULL DEFAULT 'room' CHECK (home IN ('room', 'desk')), -- which view of Today it starts with
  counter_only INTEGER NOT NULL DEFAULT 0 CHECK (counter_only IN (0, 1)), -- locked to counter mode
  anonymous_account TEXT NOT NULL DEFAULT '' -- on which its counter sales without a customer go
) STRICT;

-- Names under which counter sales without a customer are kept apart.
CREATE TABLE anonymous_account (
  name TEXT PRIMARY KEY, -- for example what they are sold from
  position INTEGER NOT NULL -- order on pages
) STRICT;

-- Taxes.
CREATE TABLE tax (
  id TEXT PRIMARY KEY, -- short name
  label TEXT NOT NULL, -- as receipts show it
  rate TEXT NOT NULL, -- decimal, for example 0.21
  position INTEGER NOT NULL -- order on pages
) STRICT;

-- Parts of a tax that goes to several authorities; their rates add up to the tax's.
CREATE TABLE tax_part (
  tax TEXT NOT NULL REFERENCES tax, -- of which it is a part
  position INTEGER NOT NULL, -- order on papers
  label TEXT NOT NULL, -- as receipts show it
  rate TEXT NOT NULL, -- decimal
  PRIMARY KEY (tax, position)
) STRICT;

-- Notes and coins.
CREATE TABLE denomination (
  value INTEGER PRIMARY KEY, -- minor units
  is_note INTEGER NOT NULL CHECK (is_note IN (0, 1)) -- else a coin
) STRICT;

-- Ways to pay.
CREATE TABLE tender (
  id TEXT PRIMARY KEY, -- what payments keep
  name TEXT NOT NULL UNIQUE, -- as pages show it
  kind TEXT NOT NULL CHECK (kind IN ('cash', 'machine', 'keyed', 'stored card', 'recorded', 'gift card', 'voucher',
                                     'store credit', 'points', 'account')), -- how it is taken
  reference TEXT NOT NULL, -- what is asked for each time; empty: nothing
  is_on INTEGER NOT NULL CHECK (is_on IN (0, 1)), -- offered
  position INTEGER NOT NULL -- order on pages
) STRICT;

-- Tables, stools and other places to sit, on the floor plan.
CREATE TABLE spot (
  id TEXT PRIMARY KEY, -- short name, for good
  name TEXT NOT NULL, -- as pages show it
  area TEXT NOT NULL, -- the part of the house it is in
  shape TEXT NOT NULL CHECK (shape IN ('round', 'square', 'stool')), -- how it is drawn
  x INTEGER NOT NULL, -- left edge on the plan
  y INTEGER NOT NULL, -- upper edge on the plan
  width INTEGER NOT NULL, -- on the plan
  height INTEGER NOT NULL, -- on the plan
  seats INTEGER NOT NULL, -- how many sit there
  ended_at TEXT -- since when it is not on the plan any more
) STRICT;

-- ==== What is sold

-- Groups of items on the pick pane.
CREATE TABLE category (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  icon TEXT NOT NULL, -- name of its drawing
  position INTEGER NOT NULL, -- order on pages
  parent TEXT REFERENCES category -- in which it lies
) STRICT;

-- Goods and services.
CREATE TABLE item (
  id TEXT PRIMARY KEY, -- short name
  number INTEGER NOT NULL UNIQUE, -- typed to find it
  name TEXT NOT NULL, -- as receipts show it
  category TEXT NOT NULL REFERENCES category, -- where it is picked
  price INTEGER NOT NULL CHECK (price >= 0), -- usual price of one, minor units
  tax TEXT REFERENCES tax, -- NULL: untaxed
  place TEXT NOT NULL, -- which prepares it; empty: nobody
  report_group TEXT NOT NULL, -- under which its sales are reported
  position INTEGER NOT NULL, -- order on pages
  minutes INTEGER, -- how long a service takes; NULL for goods
  code TEXT, -- barcode
  unit TEXT NOT NULL DEFAULT '', -- kg or m; empty: pieces
  variable INTEGER NOT NULL DEFAULT 0 CHECK (variable IN (0, 1)), -- its price may be overtyped
  shelf TEXT NOT NULL DEFAULT '' -- where it lies
) STRICT;
CREATE UNIQUE INDEX item_code ON item (code) WHERE code IS NOT NULL;

-- Groups of choices that items have.
CREATE TABLE choice_group (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  least INTEGER NOT NULL, -- choices that must be made
  most INTEGER NOT NULL CHECK (most >= least) -- choices that may be made
) STRICT;

-- Choices.
CREATE TABLE choice (
  id TEXT PRIMARY KEY, -- short name
  choice_group TEXT NOT NULL REFERENCES choice_group, -- to which it belongs
  label TEXT NOT NULL, -- as receipts show it
  price INTEGER NOT NULL, -- added to the item's; may be negative
  position INTEGER NOT NULL -- order on pages
) STRICT;

-- Which items have which groups of choices.
CREATE TABLE item_group (
  item TEXT NOT NULL REFERENCES item, -- that has them
  choice_group TEXT NOT NULL REFERENCES choice_group, -- that it has
  position INTEGER NOT NULL, -- order on pages
  PRIMARY KEY (item, choice_group)
) STRICT;

-- Price lists that hold at some hours of some days.
CREATE TABLE price_list (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  days TEXT NOT NULL, -- digits, 0 is Monday
  begins TEXT NOT NULL, -- wall time, HH:MM
  ends TEXT NOT NULL, -- wall time, HH:MM
  position INTEGER NOT NULL -- the first that holds counts
) STRICT;

-- The prices of a list.
CREATE TABLE price_list_item (
  list TEXT NOT NULL REFERENCES price_list, -- on which it stands
  item TEXT NOT NULL REFERENCES item, -- that it is of
  price INTEGER NOT NULL CHECK (price >= 0), -- of one, minor units
  PRIMARY KEY (list, item)
) STRICT;

-- Requests that are written again and again.
CREATE TABLE preset_note (
  words TEXT PRIMARY KEY, -- what is written
  position INTEGER NOT NULL -- order on pages
) STRICT;

-- Goods in variants, told apart by size and colour.
CREATE TABLE family (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  code TEXT UNIQUE -- barcode of the family
) STRICT;

-- The variants of a family.
CREATE TABLE variant (
  item TEXT PRIMARY KEY REFERENCES item, -- the variant itself
  family TEXT NOT NULL REFERENCES family, -- to which it belongs
  size TEXT NOT NULL, -- as pages show it
  colour TEXT NOT NULL -- as pages show it
) STRICT;
CREATE INDEX variant_family ON variant (family);

-- What was counted; what is there is the last count less what stands on tickets since.
CREATE TABLE stock_count (
  id INTEGER PRIMARY KEY, -- order of counts
  item TEXT NOT NULL REFERENCES item, -- that was counted
  at TEXT NOT NULL, -- when
  quantity TEXT NOT NULL, -- how many are there
  reason TEXT NOT NULL, -- why it was counted
  staff TEXT NOT NULL REFERENCES staff, -- who counted
  till TEXT NOT NULL REFERENCES till -- where it was written down
) STRICT;
CREATE INDEX stock_count_item ON stock_count (item, id);

-- Discounts, comps and surcharges that everybody may give.
CREATE TABLE preset (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- the reason that reports show
  kind TEXT NOT NULL CHECK (kind IN ('discount', 'comp', 'surcharge')), -- what it is
  percent TEXT, -- either a percent
  amount INTEGER, -- or an amount, minor units
  code TEXT UNIQUE, -- asked for by this; NULL: offered to all
  scope TEXT NOT NULL CHECK (scope IN ('line', 'ticket', 'both')), -- on what it may be given
  position INTEGER NOT NULL, -- order on pages
  CHECK ((percent IS NULL) <> (amount IS NULL))
) STRICT;

-- ==== People

-- Households: people who may use one another's stored cards.
CREATE TABLE household (
  id INTEGER PRIMARY KEY, -- number
  name TEXT NOT NULL -- as pages show it
) STRICT;

-- People and companies.
CREATE TABLE person (
  id INTEGER PRIMARY KEY, -- number
  name TEXT NOT NULL, -- as pages show it
  phone TEXT, -- E.164
  email TEXT, -- address
  birthday TEXT, -- ISO date
  household INTEGER REFERENCES household, -- to which they belong
  company INTEGER NOT NULL DEFAULT 0 CHECK (company IN (0, 1)), -- a company
  account INTEGER NOT NULL DEFAULT 0 CHECK (account IN (0, 1)), -- may pay later
  receipt_by TEXT NOT NULL DEFAULT '', -- how they like their receipts; empty: ask
  notes TEXT NOT NULL DEFAULT '', -- free text
  since TEXT NOT NULL, -- ISO date
  search_words TEXT NOT NULL -- what they are found by
) STRICT;
CREATE INDEX person_begins ON person (search_words);
CREATE INDEX person_household ON person (household) WHERE household IS NOT NULL;
CREATE VIRTUAL TABLE person_words USING fts5 (
  search_words, content = 'person', content_rowid = 'id', tokenize = 'trigram'
);
CREATE TRIGGER person_is_found AFTER INSERT ON person BEGIN
  INSERT INTO person_words (rowid, search_words) VALUES (new.id, new.search_words);
END;
CREATE TRIGGER person_is_found_anew AFTER UPDATE OF search_words ON person BEGIN
  INSERT INTO person_words (person_words, rowid, search_words) VALUES ('delete', old.id, old.search_words);
  INSERT INTO person_words (rowid, search_words) VALUES (new.id, new.search_words);
END;

-- Cards that the payment service keeps for somebody. Never a card's number.
CREATE TABLE card (
  id INTEGER PRIMARY KEY, -- number
  person INTEGER REFERENCES person, -- whose it is; NULL: keyed for one charge
  token TEXT NOT NULL UNIQUE, -- the service's name for it
  brand TEXT NOT NULL, -- as receipts show it
  last_four TEXT NOT NULL CHECK (length(last_four) = 4), -- digits
  expiry TEXT NOT NULL, -- MM/YY
  added_at TEXT NOT NULL, -- when
  added_by TEXT NOT NULL REFERENCES staff, -- who
  ended_at TEXT -- since when it is not offered any more
) STRICT;
CREATE INDEX card_person ON card (person) WHERE person IS NOT NULL;

-- Cards that were keyed, right or wrong: too many at one till are refused.
CREATE TABLE keyed_try (
  at TEXT NOT NULL, -- when
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff -- who
) STRICT;
CREATE INDEX keyed_try_at ON keyed_try (till, at);

-- Gift cards, vouchers and store credit; what is on one is the sum of its lines less its payments.
CREATE TABLE stored_value (
  id INTEGER PRIMARY KEY, -- number
  kind TEXT NOT NULL CHECK (kind IN ('gift card', 'voucher', 'store credit')), -- what it is
  code TEXT UNIQUE, -- barcode; NULL for store credit
  person INTEGER REFERENCES person, -- whose store credit it is
  made_at TEXT NOT NULL, -- when
  made_by TEXT NOT NULL REFERENCES staff, -- who
  good_until TEXT -- ISO date
) STRICT;
CREATE UNIQUE INDEX one_credit_a_person ON stored_value (person) WHERE kind = 'store credit';

-- Kinds of membership.
CREATE TABLE membership_kind (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  position INTEGER NOT NULL -- order on pages
) STRICT;

-- What a membership gives by itself: on an item, or on a report group.
CREATE TABLE benefit (
  id TEXT PRIMARY KEY, -- short name
  kind TEXT NOT NULL REFERENCES membership_kind, -- which membership gives it
  name TEXT NOT NULL, -- the reason that receipts show
  percent TEXT NOT NULL, -- taken off
  item TEXT REFERENCES item, -- on which it is given
  report_group TEXT, -- or on all of this group
  times INTEGER CHECK (times > 0), -- how often a year, on one piece each; NULL: always
  CHECK ((item IS NULL) <> (report_group IS NULL))
) STRICT;

-- Who is a member.
CREATE TABLE membership (
  id INTEGER PRIMARY KEY, -- number
  person INTEGER NOT NULL REFERENCES person, -- who
  kind TEXT NOT NULL REFERENCES membership_kind, -- of what
  since TEXT NOT NULL, -- ISO date
  until TEXT NOT NULL, -- ISO date, the last day
  staff TEXT NOT NULL REFERENCES staff, -- who gave it
  ended_at TEXT -- when it was ended before
) STRICT;
CREATE INDEX membership_person ON membership (person) WHERE ended_at IS NULL;

-- ==== Days and drawers

-- Business days.
CREATE TABLE day (
  id INTEGER PRIMARY KEY, -- number
  business_date TEXT NOT NULL, -- ISO date
  opened_at TEXT NOT NULL, -- when
  opened_by TEXT NOT NULL REFERENCES staff, -- who
  closed_at TEXT, -- when; NULL: open
  closed_by TEXT REFERENCES staff -- who
) STRICT;
CREATE UNIQUE INDEX one_open_day ON day ((closed_at IS NULL)) WHERE closed_at IS NULL;

-- Tills that take part in a day.
CREATE TABLE day_till (
  day INTEGER NOT NULL REFERENCES day, -- which day
  till TEXT NOT NULL REFERENCES till, -- which till
  float_amount INTEGER NOT NULL, -- counted when it joined, minor units
  pieces TEXT NOT NULL DEFAULT '', -- that its drawer should hold now, JSON by denomination; empty: not known
  PRIMARY KEY (day, till)
) STRICT;

-- Counts of a drawer; all are kept.
CREATE TABLE drawer_count (
  id INTEGER PRIMARY KEY, -- order of counts
  day INTEGER NOT NULL REFERENCES day, -- which day
  till TEXT NOT NULL REFERENCES till, -- whose drawer
  staff TEXT NOT NULL REFERENCES staff, -- who counted
  at TEXT NOT NULL, -- when
  pieces TEXT NOT NULL, -- JSON by denomination; empty: counted as a total
  total INTEGER NOT NULL CHECK (total >= 0), -- counted, minor units
  expected INTEGER NOT NULL -- what it should have held, minor units
) STRICT;
CREATE INDEX drawer_count_day ON drawer_count (day, till);

-- Money paid out of a drawer, or in.
CREATE TABLE petty_cash (
  id INTEGER PRIMARY KEY, -- order
  day INTEGER NOT NULL REFERENCES day, -- which day
  till TEXT NOT NULL REFERENCES till, -- whose drawer
  staff TEXT NOT NULL REFERENCES staff, -- who
  at TEXT NOT NULL, -- when
  direction TEXT NOT NULL CHECK (direction IN ('out', 'in')), -- which way
  category TEXT NOT NULL, -- what for
  note TEXT NOT NULL, -- free text
  amount INTEGER NOT NULL CHECK (amount > 0), -- minor units
  deposit INTEGER REFERENCES line -- the deposit that it gives back
) STRICT;
CREATE INDEX petty_cash_day ON petty_cash (day, till);
CREATE INDEX petty_cash_deposit ON petty_cash (deposit) WHERE deposit IS NOT NULL;

-- ==== Tickets

-- Tickets.
CREATE TABLE ticket (
  id INTEGER PRIMARY KEY, -- never shown
  number INTEGER NOT NULL UNIQUE, -- as papers show it
  spot TEXT REFERENCES spot, -- where its guests sit
  source TEXT NOT NULL DEFAULT 'table' CHECK (source IN ('table', 'counter', 'tab', 'booking', 'walk-in', 'job', 'phone')), -- how it began
  person INTEGER REFERENCES person, -- the customer
  name TEXT, -- what it is called
  staff TEXT NOT NULL REFERENCES staff, -- who serves it
  till TEXT NOT NULL REFERENCES till, -- where it began
  day INTEGER NOT NULL REFERENCES day, -- on which it began
  opened_at TEXT NOT NULL, -- when it began
  promised_at TEXT, -- wall time for which an order is promised
  bill_asked_at TEXT, -- when its guests asked for the bill
  billed_at TEXT, -- when a bill was last printed for somebody who still owes
  held_at TEXT, -- since when it is on hold
  closed_at TEXT, -- when it was closed
  reopened_at TEXT, -- since when it is open again
  voiding_at TEXT, -- since when it is being made void
  voided_at TEXT, -- when it was made void
  state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'closed', 'left')), -- left: it ended without a sale
  split TEXT NOT NULL DEFAULT 'shares' CHECK (split IN ('shares', 'equal')), -- how it is shared
  tips_to TEXT NOT NULL DEFAULT 'staff' CHECK (tips_to IN ('staff', 'pool')), -- whose its tips are
  price_list TEXT NOT NULL DEFAULT '', -- the list that its new lines have; empty: the hour's
  anonymous_account TEXT NOT NULL DEFAULT '', -- on which a sale without a customer goes
  version INTEGER NOT NULL DEFAULT 1 -- one more with every change
) STRICT;
CREATE UNIQUE INDEX one_open_ticket_a_spot ON ticket (spot) WHERE state = 'open' AND reopened_at IS NULL;
CREATE INDEX ticket_state ON ticket (state, closed_at);
CREATE INDEX ticket_closed ON ticket (closed_at) WHERE state = 'closed';
CREATE INDEX ticket_past ON ticket (closed_at) WHERE closed_at IS NOT NULL;
CREATE INDEX ticket_day ON ticket (day);
CREATE INDEX ticket_person ON ticket (person) WHERE person IS NOT NULL;
CREATE INDEX ticket_named ON ticket (name) WHERE name IS NOT NULL;
CREATE INDEX ticket_spot ON ticket (spot) WHERE spot IS NOT NULL;

-- Who pays.
CREATE TABLE payer (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- of which ticket
  letter TEXT NOT NULL, -- as pages show them
  position INTEGER NOT NULL, -- order on pages
  tip_percent TEXT, -- a tip in percent
  tip_amount INTEGER, -- or an amount, minor units
  stated INTEGER CHECK (stated > 0), -- gives this much, whoever had what; minor units
  fees TEXT CHECK (fees IN ('even', 'proportional')), -- how they take the charges; NULL: as the charges say
  settled_at TEXT, -- since when they owe nothing
  gone_at TEXT -- since when they stand for nobody
) STRICT;
CREATE INDEX payer_ticket ON payer (ticket);

-- What a settled payer has paid for, whatever happens to the ticket later.
CREATE TABLE settled_part (
  payer INTEGER NOT NULL REFERENCES payer, -- who has settled
  kind TEXT NOT NULL CHECK (kind IN ('line', 'charge', 'tax', 'memo')), -- what the part is of
  ref TEXT NOT NULL, -- the line, charge or tax; for a memo its name
  amount INTEGER NOT NULL, -- minor units
  PRIMARY KEY (payer, kind, ref)
) STRICT;

-- Who had something.
CREATE TABLE guest (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- of which ticket
  letter TEXT NOT NULL, -- as pages show them
  name TEXT, -- when it is known
  payer INTEGER REFERENCES payer, -- who pays for them; NULL while shared in equal parts
  UNIQUE (ticket, letter)
) STRICT;
CREATE INDEX guest_named ON guest (name, ticket) WHERE name IS NOT NULL;

-- Lines; struck through, never deleted.
CREATE TABLE line (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- of which ticket
  role TEXT NOT NULL DEFAULT 'sale' CHECK (role IN ('sale', 'deposit', 'account payment', 'gift card', 'voucher', 'store credit')), -- what it does
  item TEXT NOT NULL REFERENCES item, -- that was picked
  label TEXT NOT NULL, -- as receipts show it
  unit_price INTEGER NOT NULL, -- of one, without choices; minor units
  quantity TEXT NOT NULL, -- decimal
  unit TEXT NOT NULL DEFAULT '', -- kg or m; empty: pieces
  tax TEXT REFERENCES tax, -- NULL: untaxed
  report_group TEXT NOT NULL, -- under which a sale is reported; empty for other roles
  price_list TEXT NOT NULL DEFAULT '', -- name of the list that gave its price; empty: usual
  staff TEXT NOT NULL REFERENCES staff, -- who served it
  note TEXT NOT NULL, -- request
  added_at TEXT NOT NULL, -- when
  removed_at TEXT, -- when it was struck through
  removed_by TEXT REFERENCES staff, -- who struck it through
  booking INTEGER REFERENCES booking, -- that it settles
  job INTEGER REFERENCES job, -- that it settles, or holds a deposit on
  stored INTEGER REFERENCES stored_value, -- that it sells or tops up
  account INTEGER REFERENCES person, -- whose account it pays
  invoice INTEGER REFERENCES payment -- which invoice it pays; NULL: the oldest
) STRICT;
CREATE INDEX line_ticket ON line (ticket);
CREATE INDEX line_job ON line (job) WHERE job IS NOT NULL;
CREATE INDEX line_stored ON line (stored) WHERE stored IS NOT NULL;
CREATE INDEX line_item ON line (item, added_at);
CREATE INDEX line_invoice ON line (invoice) WHERE invoice IS NOT NULL;
CREATE INDEX line_account ON line (account) WHERE account IS NOT NULL;

-- Choices of a line.
CREATE TABLE line_choice (
  line INTEGER NOT NULL REFERENCES line, -- which line
  position INTEGER NOT NULL, -- order on papers
  label TEXT NOT NULL, -- as receipts show it
  price INTEGER NOT NULL, -- added to the unit price, minor units
  PRIMARY KEY (line, position)
) STRICT;

-- Whose a line is; without rows it is the whole table's.
CREATE TABLE line_share (
  line INTEGER NOT NULL REFERENCES line, -- which line
  guest INTEGER NOT NULL REFERENCES guest, -- who
  weight INTEGER NOT NULL, -- their parts
  PRIMARY KEY (line, guest)
) STRICT;

-- Service charges, delivery fees and surcharges of a ticket.
CREATE TABLE charge (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- of which ticket
  label TEXT NOT NULL, -- as receipts show it
  percent TEXT NOT NULL, -- of the lines; 0 when it is an amount
  amount INTEGER, -- minor units; NULL when it is a percent
  tax TEXT REFERENCES tax, -- NULL: untaxed
  share TEXT NOT NULL CHECK (share IN ('proportional', 'even')), -- how payers bear it
  ended_at TEXT, -- when it was taken off
  ended_by TEXT REFERENCES staff -- who took it off
) STRICT;
CREATE INDEX charge_ticket ON charge (ticket);

-- Discounts, comps and surcharges that were given; without a line on the ticket.
CREATE TABLE adjustment (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- of which ticket
  line INTEGER REFERENCES line, -- on which line
  kind TEXT NOT NULL CHECK (kind IN ('discount', 'comp', 'surcharge')), -- what it is
  percent TEXT, -- either a percent
  amount INTEGER, -- or an amount, minor units
  reason TEXT NOT NULL, -- that reports sum by
  code TEXT NOT NULL, -- with which it was asked for; empty: none
  at TEXT NOT NULL, -- when
  staff TEXT NOT NULL REFERENCES staff, -- who gave it
  lender TEXT REFERENCES staff, -- whose right it was
  benefit TEXT REFERENCES benefit, -- that gave it by itself
  person INTEGER REFERENCES person, -- whose benefit it was
  ended_at TEXT, -- when it was taken off
  ended_by TEXT REFERENCES staff, -- who took it off
  CHECK ((percent IS NULL) <> (amount IS NULL))
) STRICT;
CREATE INDEX adjustment_ticket ON adjustment (ticket);
CREATE INDEX adjustment_benefit ON adjustment (person, benefit) WHERE benefit IS NOT NULL;

-- Lines that a ticket's discount does not reach.
CREATE TABLE adjustment_exception (
  adjustment INTEGER NOT NULL REFERENCES adjustment, -- which discount
  line INTEGER NOT NULL REFERENCES line, -- which line
  PRIMARY KEY (adjustment, line)
) STRICT;

-- Benefits that somebody saves for another day on this visit.
CREATE TABLE benefit_saved (
  ticket INTEGER NOT NULL REFERENCES ticket, -- on which visit
  benefit TEXT NOT NULL REFERENCES benefit, -- which benefit
  PRIMARY KEY (ticket, benefit)
) STRICT;

-- What the places that prepare things were told.
CREATE TABLE prep_slip (
  id INTEGER PRIMARY KEY, -- order
  ticket INTEGER NOT NULL REFERENCES ticket, -- of which ticket
  place TEXT NOT NULL, -- that was told
  kind TEXT NOT NULL CHECK (kind IN ('make', 'stop')), -- make it, or do not any more
  at TEXT NOT NULL, -- when
  staff TEXT NOT NULL REFERENCES staff, -- who
  done_at TEXT, -- when it was done
  done_by TEXT REFERENCES staff -- who said so
) STRICT;
CREATE INDEX prep_slip_waiting ON prep_slip (place, id) WHERE done_at IS NULL;
CREATE INDEX prep_slip_done ON prep_slip (place, done_at);
CREATE INDEX prep_slip_ticket ON prep_slip (ticket);

-- Lines of a slip, as they were then.
CREATE TABLE prep_slip_line (
  slip INTEGER NOT NULL REFERENCES prep_slip, -- which slip
  line INTEGER NOT NULL REFERENCES line, -- which line
  quantity TEXT NOT NULL, -- how many
  words TEXT NOT NULL, -- what, with choices and request
  PRIMARY KEY (slip, line)
) STRICT;
CREATE INDEX prep_slip_line_line ON prep_slip_line (line);

-- ==== Bookings, the queue, jobs, orders

-- Bookings of a service with somebody.
CREATE TABLE booking (
  id INTEGER PRIMARY KEY, -- never shown
  uid TEXT NOT NULL UNIQUE, -- in calendars (RFC 5545)
  person INTEGER REFERENCES person, -- for whom, when they are known
  name TEXT NOT NULL, -- for whom
  service TEXT NOT NULL REFERENCES item, -- what
  staff TEXT NOT NULL REFERENCES staff, -- with whom
  starts_at TEXT NOT NULL, -- wall time
  ends_at TEXT NOT NULL, -- wall time
  price INTEGER CHECK (price >= 0), -- minor units; NULL: none yet
  note TEXT NOT NULL DEFAULT '', -- free text
  state TEXT NOT NULL DEFAULT 'booked' CHECK (state IN ('booked', 'here', 'absent', 'cancelled')), -- how it stands
  ticket INTEGER REFERENCES ticket, -- on which it is checked out
  made_at TEXT NOT NULL -- when it was made
) STRICT;
CREATE INDEX booking_starts ON booking (starts_at);
CREATE INDEX booking_person ON booking (person, starts_at);

-- What was booked besides the service.
CREATE TABLE booking_addon (
  booking INTEGER NOT NULL REFERENCES booking, -- which booking
  position INTEGER NOT NULL, -- order on pages
  item TEXT NOT NULL REFERENCES item, -- what
  PRIMARY KEY (booking, position)
) STRICT;

-- People who wait without a booking.
CREATE TABLE walk_in (
  id INTEGER PRIMARY KEY, -- order
  name TEXT NOT NULL, -- who
  phone TEXT, -- E.164
  person INTEGER REFERENCES person, -- when they are known
  wants TEXT NOT NULL, -- what for
  at TEXT NOT NULL, -- since when
  state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'served', 'left')), -- how it stands
  ticket INTEGER REFERENCES ticket -- on which they are served
) STRICT;
CREATE INDEX walk_in_waiting ON walk_in (at) WHERE state = 'waiting';

-- Jobs.
CREATE TABLE job (
  id INTEGER PRIMARY KEY, -- never shown
  number INTEGER NOT NULL UNIQUE, -- as its tag shows it
  person INTEGER NOT NULL REFERENCES person, -- whose
  thing TEXT NOT NULL, -- what was left
  note TEXT NOT NULL, -- free text
  due_at TEXT NOT NULL, -- wall time
  place TEXT NOT NULL, -- where it lies
  staff TEXT REFERENCES staff, -- who works on it
  state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'in work', 'ready')), -- how it stands
  dropped_at TEXT NOT NULL, -- when it was left
  dropped_by TEXT NOT NULL REFERENCES staff, -- who took it in
  ready_at TEXT, -- when it was ready
  dropped_on INTEGER REFERENCES ticket, -- ticket of the visit when it was left
  settled_on INTEGER REFERENCES ticket -- ticket on which it is paid
) STRICT;
CREATE INDEX job_person ON job (person);

-- Tasks of a job.
CREATE TABLE task (
  id INTEGER PRIMARY KEY, -- never shown
  job INTEGER NOT NULL REFERENCES job, -- of which job
  item TEXT NOT NULL REFERENCES item, -- what is done
  label TEXT NOT NULL, -- as papers show it
  unit_price INTEGER NOT NULL, -- of one, minor units
  quantity TEXT NOT NULL, -- decimal
  unit TEXT NOT NULL, -- kg or m; empty: pieces
  pieces INTEGER NOT NULL CHECK (pieces > 0) -- that were left for it
) STRICT;
CREATE INDEX task_job ON task (job);

-- Pieces that left the house.
CREATE TABLE hand_over (
  id INTEGER PRIMARY KEY, -- order
  job INTEGER NOT NULL REFERENCES job, -- of which job
  task INTEGER NOT NULL REFERENCES task, -- of which task
  pieces INTEGER NOT NULL CHECK (pieces > 0), -- how many
  note TEXT NOT NULL, -- free text
  at TEXT NOT NULL, -- when
  staff TEXT NOT NULL REFERENCES staff, -- who handed them over
  batch INTEGER REFERENCES hand_over, -- the first row of what left together
  undone_at TEXT, -- when they were here after all
  undone_by TEXT REFERENCES staff -- who said so
) STRICT;
CREATE INDEX hand_over_job ON hand_over (job);

-- Deposits that the terms let the house keep.
CREATE TABLE deposit_retained (
  line INTEGER PRIMARY KEY REFERENCES line, -- the line that took the deposit
  amount INTEGER NOT NULL CHECK (amount > 0), -- minor units
  reason TEXT NOT NULL, -- free text
  at TEXT NOT NULL, -- when
  day INTEGER NOT NULL REFERENCES day, -- on which day
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who
  lender TEXT REFERENCES staff -- whose right it was
) STRICT;

-- Orders by phone.
CREATE TABLE phone_order (
  ticket INTEGER PRIMARY KEY REFERENCES ticket, -- the order
  way TEXT NOT NULL CHECK (way IN ('pick-up', 'delivery')), -- fetched or brought
  phone TEXT NOT NULL, -- E.164; empty: none
  address TEXT NOT NULL, -- where to
  directions TEXT NOT NULL -- free text
) STRICT;

-- ==== Money

-- Money taken.
CREATE TABLE payment (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- for which ticket
  payer INTEGER NOT NULL REFERENCES payer, -- from whom
  day INTEGER NOT NULL REFERENCES day, -- on which day
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who took it
  at TEXT NOT NULL, -- when
  tender TEXT NOT NULL, -- which way to pay
  route TEXT NOT NULL, -- the way it came, in words
  amount INTEGER NOT NULL, -- applied to the bill, minor units
  tip INTEGER NOT NULL, -- beside it, minor units
  tendered INTEGER, -- cash that was handed over, minor units
  pieces TEXT NOT NULL DEFAULT '', -- of its change, JSON by denomination; empty: not known
  machine TEXT, -- that charged it
  brand TEXT, -- of the card
  last_four TEXT, -- digits of the card
  reference TEXT UNIQUE, -- ours, at the machine
  card INTEGER REFERENCES card, -- keyed or stored card
  stored INTEGER REFERENCES stored_value, -- that it spends, or that its credit goes to
  deposit INTEGER REFERENCES line, -- the deposit that it uses
  extra TEXT CHECK (extra IN ('tip', 'credit')), -- what became of what was above the bill
  credit INTEGER NOT NULL DEFAULT 0, -- of the amount, what became store credit
  tip_of INTEGER REFERENCES payment, -- the charge to which this tip was added
  signature TEXT NOT NULL DEFAULT '' CHECK (signature IN ('', 'wanted', 'paper', 'screen')), -- how it was signed
  taken_back_at TEXT, -- when it was given back
  taken_back_by TEXT REFERENCES staff, -- who gave it back
  back_day INTEGER REFERENCES day, -- on which day
  back_till TEXT REFERENCES till -- where
) STRICT;
CREATE INDEX payment_ticket ON payment (ticket);
CREATE INDEX payment_day ON payment (day, till);
CREATE INDEX payment_back ON payment (back_day) WHERE back_day IS NOT NULL;
CREATE INDEX payment_amount ON payment (amount);
CREATE INDEX payment_given ON payment (amount + tip);
CREATE INDEX payment_deposit ON payment (deposit) WHERE deposit IS NOT NULL;
CREATE INDEX payment_stored ON payment (stored) WHERE stored IS NOT NULL;
CREATE INDEX payment_on_account ON payment (ticket) WHERE tender = 'account';

-- Signatures that guests drew on the screen.
CREATE TABLE signature (
  payment INTEGER PRIMARY KEY REFERENCES payment, -- what was signed
  svg TEXT NOT NULL, -- the drawing
  at TEXT NOT NULL, -- when
  staff TEXT NOT NULL REFERENCES staff -- who asked for it
) STRICT;

-- What was asked of a card machine or the payment service.
CREATE TABLE card_request (
  reference TEXT PRIMARY KEY, -- ours, under which it can be asked for again
  kind TEXT NOT NULL CHECK (kind IN ('charge', 'refund', 'hold', 'capture', 'release', 'tip')), -- what was asked
  ticket INTEGER NOT NULL REFERENCES ticket, -- for which ticket
  payer INTEGER NOT NULL REFERENCES payer, -- for whom
  payment INTEGER REFERENCES payment, -- that goes back, or gets a tip
  machine TEXT NOT NULL, -- that was asked
  amount INTEGER NOT NULL CHECK (amount > 0), -- minor units
  tip INTEGER NOT NULL, -- of the amount, minor units
  ask_tip INTEGER NOT NULL CHECK (ask_tip IN (0, 1)), -- the machine asks for a tip
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who asked
  asked_at TEXT NOT NULL, -- when
  state TEXT NOT NULL CHECK (state IN ('asked', 'sent', 'unknown', 'approved', 'declined', 'cancelled', 'not sent')), -- how it stands
  step TEXT NOT NULL, -- what the machine does
  said TEXT NOT NULL, -- how it ended, in words
  ended_at TEXT, -- when it ended
  hold INTEGER REFERENCES hold, -- that is used up or let go
  card INTEGER REFERENCES card, -- keyed or stored card
  refund INTEGER REFERENCES refund, -- of which it is a part
  extra TEXT CHECK (extra IN ('tip', 'credit')), -- what becomes of what is above the bill
  credit INTEGER NOT NULL DEFAULT 0 -- of the amount, what is above the bill
) STRICT;
CREATE UNIQUE INDEX one_open_request_a_payer ON card_request (payer) WHERE state IN ('asked', 'sent', 'unknown');
CREATE UNIQUE INDEX one_busy_request_a_machine ON card_request (machine)
  WHERE state IN ('asked', 'sent') AND machine <> 'payment service';
CREATE INDEX card_request_ticket ON card_request (ticket);
CREATE INDEX card_request_open ON card_request (state) WHERE state IN ('asked', 'sent', 'unknown');

-- Sums that are reserved on a card.
CREATE TABLE hold (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- for which ticket
  machine TEXT NOT NULL, -- that holds it
  reference TEXT NOT NULL UNIQUE, -- ours, at the machine
  amount INTEGER NOT NULL CHECK (amount > 0), -- minor units
  brand TEXT NOT NULL, -- of the card
  last_four TEXT NOT NULL, -- digits of the card
  expiry TEXT NOT NULL, -- MM/YY
  token TEXT NOT NULL, -- the machine's name for the card
  held_at TEXT NOT NULL, -- since when
  lapses_at TEXT NOT NULL, -- when the bank lets it go
  state TEXT NOT NULL DEFAULT 'held' CHECK (state IN ('held', 'used', 'released')), -- how it stands
  ended_at TEXT -- when it ended
) STRICT;
CREATE INDEX hold_ticket ON hold (ticket);

-- Loyalty points, earned and spent.
CREATE TABLE points (
  id INTEGER PRIMARY KEY, -- order
  person INTEGER NOT NULL REFERENCES person, -- whose
  ticket INTEGER NOT NULL REFERENCES ticket, -- on which
  payment INTEGER REFERENCES payment, -- that spent them
  points INTEGER NOT NULL, -- earned; negative: spent or taken back
  at TEXT NOT NULL -- when
) STRICT;
CREATE INDEX points_person ON points (person);

-- Money given back for a closed ticket.
CREATE TABLE refund (
  id INTEGER PRIMARY KEY, -- never shown
  ticket INTEGER NOT NULL REFERENCES ticket, -- of which ticket
  payment INTEGER NOT NULL REFERENCES payment, -- out of which payment
  amount INTEGER NOT NULL CHECK (amount > 0), -- with the tip, minor units
  tip INTEGER NOT NULL DEFAULT 0, -- of the amount, minor units
  deposit INTEGER REFERENCES line, -- the deposit of which it gives back the rest
  reason TEXT NOT NULL, -- free text
  route TEXT NOT NULL, -- the way it goes, in words
  day INTEGER NOT NULL REFERENCES day, -- on which day
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who
  lender TEXT REFERENCES staff, -- whose right it was
  at TEXT NOT NULL, -- when
  state TEXT NOT NULL CHECK (state IN ('asked', 'done', 'not done')) -- how it stands
) STRICT;
CREATE INDEX refund_ticket ON refund (ticket);
CREATE INDEX refund_day ON refund (day);
CREATE INDEX refund_deposit ON refund (deposit) WHERE deposit IS NOT NULL;

-- What of each line and charge a refund gave back.
CREATE TABLE refund_part (
  refund INTEGER NOT NULL REFERENCES refund, -- which refund
  kind TEXT NOT NULL CHECK (kind IN ('line', 'charge')), -- what the part is of
  ref INTEGER NOT NULL, -- the line or charge
  amount INTEGER NOT NULL, -- minor units, without added tax
  PRIMARY KEY (refund, kind, ref)
) STRICT;

-- What of each tax a refund gave back.
CREATE TABLE refund_tax (
  refund INTEGER NOT NULL REFERENCES refund, -- which refund
  position INTEGER NOT NULL, -- order
  tax TEXT REFERENCES tax, -- NULL: untaxed
  amount INTEGER NOT NULL, -- with its tax, minor units
  contained INTEGER NOT NULL, -- the tax in it, minor units
  PRIMARY KEY (refund, position)
) STRICT;

-- Closed tickets opened again or made void, and corrections handed on to a supervisor.
CREATE TABLE correction (
  id INTEGER PRIMARY KEY, -- order
  ticket INTEGER NOT NULL REFERENCES ticket, -- which ticket
  payment INTEGER REFERENCES payment, -- that it is about
  kind TEXT NOT NULL CHECK (kind IN ('reopened', 'void', 'handed on')), -- what it is
  reason TEXT NOT NULL, -- free text
  of_day INTEGER NOT NULL REFERENCES day, -- the ticket's day
  day INTEGER NOT NULL REFERENCES day, -- on which it is corrected
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who
  lender TEXT REFERENCES staff, -- whose right it was
  at TEXT NOT NULL, -- when
  done_at TEXT -- when it was done
) STRICT;
CREATE INDEX correction_ticket ON correction (ticket);
CREATE INDEX correction_of_day ON correction (of_day);
CREATE INDEX correction_day ON correction (day);

-- ==== What was done

-- Requests that were carried out: the same one sent again gets the same answer and does nothing.
CREATE TABLE request (
  key TEXT PRIMARY KEY, -- made with the page
  kind TEXT NOT NULL, -- of act
  about TEXT NOT NULL DEFAULT '', -- what it was about, for example `ticket 12`
  at TEXT NOT NULL, -- when
  answer TEXT NOT NULL -- that is given again
) STRICT;

-- Everything that was done: append-only, each entry chained to the one before.
CREATE TABLE journal (
  number INTEGER PRIMARY KEY, -- 1, 2, 3 and so on
  previous TEXT NOT NULL, -- hash of the entry before; 64 zeros for the first
  hash TEXT NOT NULL UNIQUE, -- SHA-256 of the entry's canonical JSON (RFC 8785)
  at TEXT NOT NULL, -- when
  day INTEGER NOT NULL REFERENCES day, -- on which day
  till TEXT NOT NULL REFERENCES till, -- where
  staff TEXT NOT NULL REFERENCES staff, -- who
  ticket INTEGER REFERENCES ticket, -- about which ticket
  version INTEGER, -- the ticket's version after it
  kind TEXT NOT NULL, -- what was done
  facts TEXT NOT NULL -- ids, figures and codes, canonical JSON
) STRICT;
CREATE INDEX journal_ticket ON journal (ticket, version);

-- Names, contacts and free text of an entry: they may be erased, their hash is chained.
CREATE TABLE journal_text (
  entry INTEGER NOT NULL REFERENCES journal, -- which entry
  name TEXT NOT NULL, -- of the fact
  salt TEXT NOT NULL, -- by chance
  hash TEXT NOT NULL, -- SHA-256 of salt and text
  text TEXT NOT NULL, -- empty when it was erased
  PRIMARY KEY (entry, name)
) STRICT;

-- Legs of an entry that moves money; debits positive, together 0.
CREATE TABLE posting (
  entry INTEGER NOT NULL REFERENCES journal, -- which entry
  account TEXT NOT NULL, -- for example assets:cash:galley
  amount INTEGER NOT NULL, -- minor units
  PRIMARY KEY (entry, account)
) STRICT;
CREATE INDEX posting_account ON posting (account);

-- Papers and messages, written with the act that wants them and sent after it.
CREATE TABLE outbox (
  id INTEGER PRIMARY KEY, -- order
  at TEXT NOT NULL, -- when
  device TEXT NOT NULL, -- printer, e-mail or message
  title TEXT NOT NULL, -- as pages show it
  body TEXT NOT NULL, -- text, or a whole e-mail (RFC 5322)
  copy INTEGER NOT NULL, -- 1 is the first
  about TEXT NOT NULL, -- what it is of, for example `ticket 12 payer 3`
  barcode TEXT NOT NULL DEFAULT '', -- printed below
  recipient TEXT NOT NULL DEFAULT '', -- to whom
  claimed_at TEXT, -- when a sender took it
  sent_at TEXT, -- when it went out
  fault TEXT -- why it did not
) STRICT;
CREATE INDEX outbox_waiting ON outbox (device) WHERE sent_at IS NULL;
CREATE INDEX outbox_about ON outbox (about);

-- ==== What is never changed or deleted

CREATE TRIGGER journal_is_not_changed BEFORE UPDATE ON journal
  BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
CREATE TRIGGER journal_is_not_shortened BEFORE DELETE ON journal
  BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
CREATE TRIGGER journal_text_keeps_its_hash BEFORE UPDATE OF entry, name, salt, hash ON journal_text
  BEGIN SELECT RAISE(ABORT, 'a text may be erased, its hash stays'); END;
CREATE TRIGGER journal_text_is_not_removed BEFORE DELETE ON journal_text
  BEGIN SELECT RAISE(ABORT, 'texts are erased, not removed'); END;
CREATE TRIGGER posting_is_not_changed BEFORE UPDATE ON posting
  BEGIN SELECT RAISE(ABORT, 'postings are append-only'); END;
CREATE TRIGGER posting_is_not_removed BEFORE DELETE ON posting
  BEGIN SELECT RAISE(ABORT, 'postings are append-only'); END;
CREATE TRIGGER payment_is_not_removed BEFORE DELETE ON payment
  BEGIN SELECT RAISE(ABORT, 'payments are not deleted'); END;
CREATE TRIGGER payment_keeps_its_figures
  BEFORE UPDATE OF ticket, payer, day, till, staff, at, tender, route, amount, tip, tendered, machine, reference, extra,
    credit, card, stored, tip_of ON payment
  BEGIN SELECT RAISE(ABORT, 'payments keep their figures'); END;
CREATE TRIGGER line_is_not_deleted BEFORE DELETE ON line
  BEGIN SELECT RAISE(ABORT, 'lines are struck through, not deleted'); END;
CREATE TRIGGER adjustment_is_not_removed BEFORE DELETE ON adjustment
  BEGIN SELECT RAISE(ABORT, 'adjustments stay'); END;
CREATE TRIGGER drawer_count_is_not_changed BEFORE UPDATE ON drawer_count
  BEGIN SELECT RAISE(ABORT, 'counts are append-only'); END;
CREATE TRIGGER drawer_count_is_not_removed BEFORE DELETE ON drawer_count
  BEGIN SELECT RAISE(ABORT, 'counts are append-only'); END;
CREATE TRIGGER petty_cash_is_not_changed BEFORE UPDATE ON petty_cash
  BEGIN SELECT RAISE(ABORT, 'paid in and out are append-only'); END;
CREATE TRIGGER petty_cash_is_not_removed BEFORE DELETE ON petty_cash
  BEGIN SELECT RAISE(ABORT, 'paid in and out are append-only'); END;
CREATE TRIGGER points_are_not_changed BEFORE UPDATE ON points
  BEGIN SELECT RAISE(ABORT, 'points are append-only'); END;
CREATE TRIGGER points_are_not_removed BEFORE DELETE ON points
  BEGIN SELECT RAISE(ABORT, 'points are append-only'); END;
CREATE TRIGGER signature_is_not_changed BEFORE UPDATE ON signature
  BEGIN SELECT RAISE(ABORT, 'signatures stay'); END;
CREATE TRIGGER signature_is_not_removed BEFORE DELETE ON signature
  BEGIN SELECT RAISE(ABORT, 'signatures stay'); END;
CREATE TRIGGER refund_is_not_removed BEFORE DELETE ON refund
  BEGIN SELECT RAISE(ABORT, 'refunds are not deleted'); END;
CREATE TRIGGER hand_over_is_not_removed BEFORE DELETE ON hand_over
  BEGIN SELECT RAISE(ABORT, 'hand-overs are not deleted'); END;
CREATE TRIGGER deposit_retained_stays BEFORE DELETE ON deposit_retained
  BEGIN SELECT RAISE(ABORT, 'deposits that the house keeps stay'); END;

-- ==== What every house has

-- The item of lines that are on no list; each such line says what it is, and its kind fixes the tax.
INSERT INTO category (id, name, icon, position) VALUES ('unlisted', 'Unlisted', 'plus', 9999);
INSERT INTO item (id, number, name, category, price, tax, place, report_group, position)
VALUES ('unlisted', 0, 'Unlisted item', 'unlisted', 0, NULL, '', 'unlisted', 9999);
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
