-- Which records people follow.
CREATE TABLE follows (
  person INTEGER NOT NULL,
  record_type TEXT NOT NULL,
  record INTEGER NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (person, record_type, record)
);
