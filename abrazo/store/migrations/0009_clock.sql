-- The latest moment of a day is looked at on Today and Till: it lies in the index.
DROP INDEX journal_day;
CREATE INDEX journal_day ON journal (day, at);
