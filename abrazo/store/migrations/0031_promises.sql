-- ==== What a task is promised after

ALTER TABLE item ADD COLUMN job_days INTEGER; -- open days until this task is promised; NULL: the house's
