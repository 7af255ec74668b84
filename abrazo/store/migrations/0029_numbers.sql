-- ==== Numbers: series of their own for each kind or one for all, of the house or of each till

ALTER TABLE settings ADD COLUMN one_series INTEGER NOT NULL DEFAULT 0; -- tickets, jobs, hires, goods set aside: one series
ALTER TABLE settings ADD COLUMN numbers_by_till INTEGER NOT NULL DEFAULT 0; -- each till has its own
ALTER TABLE settings ADD COLUMN job_prefix TEXT NOT NULL DEFAULT 'S-'; -- before a job's number
ALTER TABLE settings ADD COLUMN hire_prefix TEXT NOT NULL DEFAULT 'H-'; -- before a hire's
ALTER TABLE settings ADD COLUMN aside_prefix TEXT NOT NULL DEFAULT 'L-'; -- before that of goods set aside
ALTER TABLE job ADD COLUMN prefix TEXT NOT NULL DEFAULT 'S-'; -- before its number, for good
ALTER TABLE hire ADD COLUMN prefix TEXT NOT NULL DEFAULT 'H-'; -- before its number, for good
ALTER TABLE layaway ADD COLUMN prefix TEXT NOT NULL DEFAULT 'L-'; -- before its number, for good
ALTER TABLE till ADD COLUMN block INTEGER NOT NULL DEFAULT 0; -- millions in which its own numbers lie
UPDATE till SET block = rowid;
