-- The language in which the house reads.
ALTER TABLE settings ADD COLUMN language TEXT NOT NULL DEFAULT 'en'; -- BCP 47: one that there is a catalogue of
