-- ==== Rights by role, sign-ins, wrong PINs

-- What the house decided about rights; what is not here is as it comes.
CREATE TABLE role_right (
  role TEXT NOT NULL, -- server, clerk, craftsman, supervisor
  name TEXT NOT NULL, -- which right
  allowed INTEGER NOT NULL CHECK (allowed IN (0, 1)), -- whether the role has it
  PRIMARY KEY (role, name)
) STRICT;

-- A further role. The rule of the column is rewritten in place, since what refers to people cannot follow a new table.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '(''server'', ''clerk'', ''supervisor'')', '(''server'', ''clerk'', ''craftsman'', ''supervisor'')')
  WHERE type = 'table' AND name = 'staff';
PRAGMA writable_schema = RESET;

-- Wrong PINs, by the screen at which they were typed and the person whose PIN was wanted.
CREATE TABLE pin_try (
  screen TEXT NOT NULL, -- which screen: its mark, or the address of one that has none yet
  staff TEXT NOT NULL REFERENCES staff, -- whose PIN
  wrong INTEGER NOT NULL, -- how many in a row
  until TEXT, -- no try is looked at before, UTC; null: at once
  at TEXT NOT NULL, -- the last one, UTC
  PRIMARY KEY (screen, staff)
) STRICT;

-- Who is signed in where. A cookie that a row has ended is worth nothing.
CREATE TABLE sign_in (
  id TEXT PRIMARY KEY, -- SHA-256 of what the cookie holds
  staff TEXT NOT NULL REFERENCES staff, -- who
  till TEXT NOT NULL REFERENCES till, -- at which till
  began_at TEXT NOT NULL, -- since when, UTC
  seen_at TEXT NOT NULL, -- when they last did something, UTC
  ended_at TEXT -- when it ended; null: it stands
) STRICT;
CREATE INDEX sign_in_began ON sign_in (began_at);
ALTER TABLE settings ADD COLUMN idle_minutes INTEGER NOT NULL DEFAULT 5; -- after so many nobody is signed in any more
