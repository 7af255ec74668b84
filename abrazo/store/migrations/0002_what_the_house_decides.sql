-- What a house decides: its language, who takes bookings and jobs, where picking begins, what a drop-off offers.
ALTER TABLE settings ADD COLUMN language TEXT NOT NULL DEFAULT 'en'; -- BCP 47: one that there is a catalogue of
ALTER TABLE staff ADD COLUMN takes_bookings INTEGER NOT NULL DEFAULT 0 CHECK (takes_bookings IN (0, 1)); -- has a column in the day of bookings
ALTER TABLE staff ADD COLUMN takes_jobs INTEGER NOT NULL DEFAULT 0 CHECK (takes_jobs IN (0, 1)); -- jobs are given to them
ALTER TABLE category ADD COLUMN first_for TEXT NOT NULL DEFAULT ''; -- where picking begins on tickets from there: tab, job, booking, walk-in

UPDATE staff SET takes_bookings = 1 WHERE id IN (SELECT staff FROM booking);
UPDATE staff SET takes_jobs = 1 WHERE id IN (SELECT staff FROM job);

-- ==== Drop-offs

-- What a drop-off offers at a touch.
CREATE TABLE job_preset (
  words TEXT NOT NULL, -- what is written
  kind TEXT NOT NULL CHECK (kind IN ('note', 'place')), -- a note about the job, or where the thing lies
  position INTEGER NOT NULL, -- order on pages
  PRIMARY KEY (kind, words)
) STRICT;
