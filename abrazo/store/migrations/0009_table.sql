-- Categories may lie in another one. A charge that was taken off stays as a record. A guest may leave.
ALTER TABLE category ADD COLUMN parent TEXT REFERENCES category;
ALTER TABLE charge ADD COLUMN ended_at TEXT;
ALTER TABLE charge ADD COLUMN ended_by TEXT REFERENCES staff;
