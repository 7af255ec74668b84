-- Some houses have cash signed for too, in the field.
ALTER TABLE settings ADD COLUMN sign_cash INTEGER NOT NULL DEFAULT 0 CHECK (sign_cash IN (0, 1)); -- cash is signed for
