-- How figures are written for one person, where not as for everyone.
CREATE TABLE person_figures (
  person INTEGER PRIMARY KEY REFERENCES people (id) ON DELETE CASCADE,
  way TEXT NOT NULL
);
