-- ==== What the house does: the rest shows nowhere

ALTER TABLE settings ADD COLUMN does TEXT NOT NULL DEFAULT 'tables tabs bookings jobs hire phone kitchen'; -- with blanks between
