-- Tokens with which programs act for a person. Of the token itself only its SHA-256 is kept.
CREATE TABLE tokens (
  id INTEGER PRIMARY KEY,
  person INTEGER NOT NULL REFERENCES accounts (person) ON DELETE CASCADE,
  hash BLOB NOT NULL UNIQUE,
  name TEXT NOT NULL,
  scopes TEXT NOT NULL,
  made INTEGER NOT NULL,
  expires INTEGER NOT NULL,
  used INTEGER
);
CREATE INDEX tokens_person ON tokens (person);
