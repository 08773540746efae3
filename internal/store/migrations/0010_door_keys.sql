-- Keys that open the door once: to set the organisation up, to take up an invitation, to choose another password. Of the
-- key itself only its SHA-256 is kept.
CREATE TABLE door_keys (
  hash BLOB PRIMARY KEY,
  kind TEXT NOT NULL,
  person INTEGER REFERENCES people (id) ON DELETE CASCADE,
  made INTEGER NOT NULL,
  expires INTEGER NOT NULL
);
CREATE INDEX door_keys_person ON door_keys (person);
