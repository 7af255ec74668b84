-- What a file brought and is not to stay is taken out again row by row: nothing is looked through for it whole.
CREATE INDEX person_merged ON person (merged_into) WHERE merged_into IS NOT NULL;
CREATE INDEX line_member ON line (member) WHERE member IS NOT NULL;
CREATE INDEX walk_in_person ON walk_in (person) WHERE person IS NOT NULL;
