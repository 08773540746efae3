-- What the application seals with what it hands out and takes back.
CREATE TABLE secrets (
  name TEXT PRIMARY KEY,
  value BLOB NOT NULL
);
