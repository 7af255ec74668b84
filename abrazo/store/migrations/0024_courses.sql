-- ==== Courses: services on a date with places, which are booked one by one

-- One date of a service that several come to.
CREATE TABLE course (
  id INTEGER PRIMARY KEY, -- order
  item TEXT NOT NULL REFERENCES item, -- the service that every place is
  staff TEXT NOT NULL REFERENCES staff, -- who leads it
  starts_at TEXT NOT NULL, -- wall time
  ends_at TEXT NOT NULL CHECK (ends_at > starts_at), -- wall time
  places INTEGER NOT NULL CHECK (places BETWEEN 1 AND 999), -- how many can come
  note TEXT NOT NULL DEFAULT '', -- for who leads it
  cancelled_at TEXT, -- when it was called off
  reason TEXT NOT NULL DEFAULT '', -- why
  made_at TEXT NOT NULL, -- when it was planned
  made_by TEXT NOT NULL REFERENCES staff -- by whom
) STRICT;
CREATE INDEX course_starts ON course (starts_at);

ALTER TABLE booking ADD COLUMN course INTEGER REFERENCES course; -- of which course it is a place; NULL: a visit of its own
ALTER TABLE booking ADD COLUMN sold_on INTEGER REFERENCES ticket; -- which ticket sold the place; off it, it is free again
CREATE INDEX booking_course ON booking (course) WHERE course IS NOT NULL;
