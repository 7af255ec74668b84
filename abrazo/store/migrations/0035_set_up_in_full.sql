-- Price lists, words that are written again and again, memberships, hire and own fields as set-up keeps them.

ALTER TABLE price_list ADD COLUMN first_on TEXT; -- ISO date from which it holds; NULL: any
ALTER TABLE price_list ADD COLUMN last_on TEXT; -- ISO date up to which it holds; NULL: any
ALTER TABLE price_list ADD COLUMN ended_at TEXT; -- since when it is retired

-- What is written again and again, offered at a touch.
CREATE TABLE preset_words (
  id TEXT PRIMARY KEY, -- short name
  words TEXT NOT NULL, -- what is written
  about TEXT NOT NULL CHECK (about IN ('item', 'job', 'place')), -- a request with an item, a note about a job, or where its thing lies
  groups TEXT NOT NULL DEFAULT '', -- report groups of items that it is for, with semicolons; empty: all
  position INTEGER NOT NULL, -- order on pages
  ended_at TEXT -- since when it is retired
) STRICT;
INSERT INTO preset_words (id, words, about, groups, position)
SELECT 'item-' || rowid, words, 'item', groups, position FROM preset_note;
INSERT INTO preset_words (id, words, about, position)
SELECT CASE kind WHEN 'note' THEN 'job-' ELSE 'place-' END || rowid, words, CASE kind WHEN 'note' THEN 'job' ELSE 'place' END, position FROM job_preset;
DROP TABLE preset_note;
DROP TABLE job_preset;

ALTER TABLE membership_kind ADD COLUMN ended_at TEXT; -- since when it is retired: nobody is given it any more
ALTER TABLE benefit ADD COLUMN ended_at TEXT; -- since when it is given no more
ALTER TABLE hire_tariff ADD COLUMN ended_at TEXT; -- since when it is offered no more
ALTER TABLE own_field ADD COLUMN prints INTEGER NOT NULL DEFAULT 0 CHECK (prints IN (0, 1)); -- it stands on papers
UPDATE own_field SET prints = 1 WHERE about = 'job';

-- Changes of set-up that hold from a business date to come.
CREATE TABLE set_up_plan (
  id INTEGER PRIMARY KEY, -- order
  thing TEXT NOT NULL, -- which kind of thing
  ref TEXT NOT NULL, -- which one
  name TEXT NOT NULL, -- what it was called then
  fields TEXT NOT NULL CHECK (json_valid(fields)), -- what is to be other, as a JSON object of fields
  first_on TEXT NOT NULL, -- ISO business date from which it holds
  staff TEXT NOT NULL REFERENCES staff, -- who planned it
  till TEXT NOT NULL REFERENCES till, -- where
  at TEXT NOT NULL, -- when, UTC
  ended_at TEXT, -- when it was made, could not be, or was taken back, UTC; NULL: it waits
  outcome TEXT NOT NULL DEFAULT '' CHECK (outcome IN ('', 'made', 'refused', 'taken back')) -- what became of it
) STRICT;
CREATE INDEX set_up_plan_waiting ON set_up_plan (first_on) WHERE ended_at IS NULL;

ALTER TABLE tax ADD COLUMN followed_by TEXT REFERENCES tax; -- which tax came in its place, also on tickets that were open then; NULL: none
ALTER TABLE tax ADD COLUMN ended_at TEXT; -- since when it is retired

-- Printers that are reached over the network; what none is for prints on the stand-in's paper.
CREATE TABLE printer (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  address TEXT NOT NULL, -- host, or host:port
  prints TEXT NOT NULL, -- for whom it prints, with semicolons: till and its id, place and its name
  drawers INTEGER NOT NULL DEFAULT 0 CHECK (drawers IN (0, 1)), -- the drawers of its tills open by its kick
  position INTEGER NOT NULL, -- the first that prints for somebody does
  ended_at TEXT -- since when it is retired
) STRICT;

ALTER TABLE outbox ADD COLUMN printer TEXT NOT NULL DEFAULT ''; -- whose printer: till and its id, place and its name, empty for a message
ALTER TABLE settings ADD COLUMN mail_server TEXT NOT NULL DEFAULT ''; -- host:port that sends e-mail; empty: the stand-in
ALTER TABLE settings ADD COLUMN mail_security TEXT NOT NULL DEFAULT 'starttls' CHECK (mail_security IN ('starttls', 'tls', 'none')); -- how that is reached
ALTER TABLE settings ADD COLUMN mail_user TEXT NOT NULL DEFAULT ''; -- who signs in there; empty: nobody
ALTER TABLE settings ADD COLUMN mail_password TEXT NOT NULL DEFAULT ''; -- with what
ALTER TABLE settings ADD COLUMN mail_from TEXT NOT NULL DEFAULT ''; -- address in whose name e-mail goes out
ALTER TABLE settings ADD COLUMN text_address TEXT NOT NULL DEFAULT ''; -- URL that takes text messages; empty: the stand-in
ALTER TABLE settings ADD COLUMN text_token TEXT NOT NULL DEFAULT ''; -- by which the house is known there
ALTER TABLE settings ADD COLUMN receipt_head TEXT NOT NULL DEFAULT ''; -- lines under the address on receipts
ALTER TABLE settings ADD COLUMN tax_number_on_receipts INTEGER NOT NULL DEFAULT 0 CHECK (tax_number_on_receipts IN (0, 1)); -- the tax number stands there too
ALTER TABLE till ADD COLUMN begins TEXT NOT NULL DEFAULT 'today' CHECK (begins IN ('today', 'counter mode')); -- what stands there after somebody signs in
