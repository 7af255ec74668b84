-- Practice on a copy, what happens after a sale, a logo on receipts, and who is shown which items.

ALTER TABLE settings ADD COLUMN practice INTEGER NOT NULL DEFAULT 0 CHECK (practice IN (0, 1)); -- this file is a copy on which somebody practises
ALTER TABLE staff ADD COLUMN in_training INTEGER NOT NULL DEFAULT 0 CHECK (in_training IN (0, 1)); -- signs in to practise, and for nothing else

-- What happens when a sale has ended, besides what people do.
CREATE TABLE after_sale (
  id TEXT PRIMARY KEY, -- short name
  name TEXT NOT NULL, -- as pages show it
  does TEXT NOT NULL CHECK (does IN ('receipt', 'drawer', 'message', 'hand over')), -- what happens
  sources TEXT NOT NULL DEFAULT '', -- how the tickets began, with semicolons; empty: any
  days INTEGER NOT NULL DEFAULT 0 CHECK (days BETWEEN 0 AND 365), -- days after it ended; 0: at once
  clock TEXT NOT NULL DEFAULT '', -- HH:MM of that day; empty: at once
  words TEXT NOT NULL DEFAULT '', -- of a message; [name] and [house] are filled in
  position INTEGER NOT NULL, -- order
  ended_at TEXT -- since when it is retired
) STRICT;

-- What is to happen, or did, after one ticket; also what was left out before it ended.
CREATE TABLE after_sale_task (
  id INTEGER PRIMARY KEY, -- order
  ticket INTEGER NOT NULL REFERENCES ticket, -- after which
  action TEXT NOT NULL REFERENCES after_sale, -- what
  staff TEXT NOT NULL REFERENCES staff, -- who ended the ticket, or left it out
  till TEXT NOT NULL REFERENCES till, -- where
  due_at TEXT NOT NULL, -- from when on, UTC
  done_at TEXT, -- when it happened or was given up, UTC
  outcome TEXT NOT NULL DEFAULT '' CHECK (outcome IN ('', 'done', 'left out', 'not needed', 'failed')), -- what became of it
  UNIQUE (ticket, action)
) STRICT;
CREATE INDEX after_sale_waiting ON after_sale_task (due_at) WHERE outcome = '';
CREATE INDEX after_sale_action ON after_sale_task (action);

ALTER TABLE category ADD COLUMN tills TEXT NOT NULL DEFAULT ''; -- at which it is offered, with semicolons; empty: all
ALTER TABLE category ADD COLUMN roles TEXT NOT NULL DEFAULT ''; -- to whom it is offered, with semicolons; empty: everybody

-- The picture at the head of receipts.
CREATE TABLE logo (
  id INTEGER PRIMARY KEY CHECK (id = 1), -- there is one
  image BLOB NOT NULL, -- PNG, black and white
  width INTEGER NOT NULL CHECK (width > 0), -- dots
  height INTEGER NOT NULL CHECK (height > 0), -- dots
  at TEXT NOT NULL -- since when, UTC
) STRICT;
