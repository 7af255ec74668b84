-- ==== Jobs: changed after they were taken in, agreed upon, worked on by the minute, cancelled, never collected

ALTER TABLE job ADD COLUMN agreed INTEGER; -- minor units that whose it is said yes to; NULL: older than that
ALTER TABLE job ADD COLUMN agreed_at TEXT NOT NULL DEFAULT ''; -- when; empty: when it was left
ALTER TABLE job ADD COLUMN agreed_how TEXT NOT NULL DEFAULT ''; -- how they said so, in words
ALTER TABLE job ADD COLUMN cancelled_at TEXT; -- when it was called off; NULL: it was not
ALTER TABLE job ADD COLUMN reason TEXT NOT NULL DEFAULT ''; -- why
ALTER TABLE job ADD COLUMN reminded_at TEXT; -- when whose it is was last reminded that it is ready
ALTER TABLE task ADD COLUMN ended_at TEXT; -- when it was taken off; NULL: it is to be done
ALTER TABLE task ADD COLUMN tax TEXT REFERENCES tax; -- of a task that is on no list; NULL: its item's
ALTER TABLE task ADD COLUMN report_group TEXT NOT NULL DEFAULT ''; -- of such a task; empty: its item's
ALTER TABLE settings ADD COLUMN open_days TEXT NOT NULL DEFAULT '1 2 3 4 5 6 7'; -- weekdays on which jobs are promised, Monday is 1
ALTER TABLE settings ADD COLUMN job_days INTEGER NOT NULL DEFAULT 3; -- open days until a job is promised, unless said otherwise
ALTER TABLE settings ADD COLUMN uncollected_days INTEGER NOT NULL DEFAULT 14; -- after which a ready job stands apart
ALTER TABLE settings ADD COLUMN disposal_days INTEGER NOT NULL DEFAULT 0; -- after which it may be disposed of; 0: never

-- When somebody worked on a job.
CREATE TABLE job_work (
  id INTEGER PRIMARY KEY, -- order
  job INTEGER NOT NULL REFERENCES job, -- on which
  staff TEXT NOT NULL REFERENCES staff, -- who
  began_at TEXT NOT NULL, -- when
  ended_at TEXT -- until when; NULL: they are at it
) STRICT;
CREATE INDEX job_work_job ON job_work (job);
CREATE UNIQUE INDEX job_work_open ON job_work (job) WHERE ended_at IS NULL;
