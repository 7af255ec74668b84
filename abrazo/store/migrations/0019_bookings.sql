-- ==== Bookings: what is asked for when one is made, how many come, when people work

-- Deposits are listed one by one, so that those for bookings stand beside those for jobs.
DROP TRIGGER owed_standing_is_not_changed;
UPDATE owed_standing SET ref = -coalesce(
  (SELECT min(l.id) FROM line l WHERE l.job = owed_standing.ref AND l.role = 'deposit'), ref) WHERE kind = 'deposit';
UPDATE owed_standing SET ref = -ref WHERE kind = 'deposit';
CREATE TRIGGER owed_standing_is_not_changed BEFORE UPDATE ON owed_standing
  BEGIN SELECT RAISE(ABORT, 'what was owed on a closed day stays so'); END;
CREATE INDEX line_booking ON line (booking) WHERE booking IS NOT NULL;

-- What was done to a booking or a job is told on its sheet.
CREATE INDEX journal_booking ON journal (facts ->> '$.booking') WHERE facts ->> '$.booking' IS NOT NULL;
CREATE INDEX journal_job ON journal (facts ->> '$.job') WHERE facts ->> '$.job' IS NOT NULL;

ALTER TABLE booking ADD COLUMN party INTEGER NOT NULL DEFAULT 1 CHECK (party BETWEEN 1 AND 99); -- how many come
ALTER TABLE booking ADD COLUMN reason TEXT NOT NULL DEFAULT ''; -- why it was cancelled

-- What the house asks for when a service is booked, and keeps when they do not come; for each who comes.
CREATE TABLE booking_terms (
  item TEXT PRIMARY KEY REFERENCES item, -- the service
  deposit INTEGER NOT NULL CHECK (deposit >= 0), -- minor units, paid when it is booked; 0: none
  no_show_fee INTEGER NOT NULL CHECK (no_show_fee >= 0) -- minor units, owed by who does not come; 0: none
) STRICT;

-- When people take bookings; several rows a day leave breaks between them, none at all leaves any time.
CREATE TABLE work_hours (
  staff TEXT NOT NULL REFERENCES staff, -- who
  weekday INTEGER NOT NULL CHECK (weekday BETWEEN 1 AND 7), -- ISO 8601: Monday is 1
  begins TEXT NOT NULL, -- wall time, HH:MM
  ends TEXT NOT NULL CHECK (ends > begins), -- wall time, HH:MM
  PRIMARY KEY (staff, weekday, begins)
) STRICT;
