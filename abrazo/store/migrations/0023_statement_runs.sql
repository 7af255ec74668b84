-- ==== Statements of many accounts at once

-- Who asked for them, and of which dates.
CREATE TABLE statement_run (
  id INTEGER PRIMARY KEY, -- order
  at TEXT NOT NULL, -- when it was asked for
  day INTEGER NOT NULL REFERENCES day, -- on which business day
  till TEXT NOT NULL REFERENCES till, -- at which till
  staff TEXT NOT NULL REFERENCES staff, -- who asked
  start TEXT NOT NULL, -- the first business date of the statements
  end TEXT NOT NULL, -- the last one
  stopped_at TEXT -- when somebody stopped it
) STRICT;

-- Whose statements they are, and what became of each.
CREATE TABLE statement_run_row (
  run INTEGER NOT NULL REFERENCES statement_run, -- of which run
  person INTEGER NOT NULL REFERENCES person, -- whose account
  outcome TEXT CHECK (outcome IN ('mailed', 'paper', 'left out')), -- NULL: not made yet
  sheet INTEGER REFERENCES outbox, -- the message, of one that is mailed
  PRIMARY KEY (run, person)
) STRICT;
