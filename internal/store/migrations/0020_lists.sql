-- Reports that are worked in as lists of records, and how each person has the lists of a record type before them (JSON:
-- which list is the first, the chart beside it and where it stands).
CREATE TABLE lists (
  report INTEGER PRIMARY KEY REFERENCES reports (id) ON DELETE CASCADE
);
CREATE TABLE list_choices (
  person INTEGER NOT NULL,
  record_type TEXT NOT NULL,
  choice TEXT NOT NULL,
  PRIMARY KEY (person, record_type)
);
