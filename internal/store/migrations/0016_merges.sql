-- Which records were merged into which, with what was changed by it, so that it can be undone.
CREATE TABLE merges (
  id INTEGER PRIMARY KEY,
  person INTEGER NOT NULL,
  record_type TEXT NOT NULL,
  record INTEGER NOT NULL,
  at INTEGER NOT NULL,
  done TEXT NOT NULL,
  undone INTEGER
);
