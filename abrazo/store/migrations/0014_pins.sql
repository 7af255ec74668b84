-- How many digits somebody's PIN has: the last one signs in by itself.
ALTER TABLE staff ADD COLUMN pin_digits INTEGER NOT NULL DEFAULT 4;
