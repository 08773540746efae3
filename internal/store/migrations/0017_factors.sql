-- The second thing that people sign in with, besides a password: the secret of their app, and the hashes of recovery codes
-- that are left. A secret that was not confirmed by a code opens nothing.
CREATE TABLE factors (
  person INTEGER PRIMARY KEY REFERENCES people (id) ON DELETE CASCADE,
  secret TEXT NOT NULL,
  confirmed INTEGER NOT NULL DEFAULT 0,
  step INTEGER NOT NULL DEFAULT 0,
  recovery TEXT NOT NULL DEFAULT '[]'
);
