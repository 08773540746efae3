-- What was brought in from files, with what it made and changed, so that it can be undone.
CREATE TABLE imports (
  id INTEGER PRIMARY KEY,
  person INTEGER NOT NULL,
  record_type TEXT NOT NULL,
  file TEXT NOT NULL,
  at INTEGER NOT NULL,
  made INTEGER NOT NULL,
  changed INTEGER NOT NULL,
  refused INTEGER NOT NULL,
  done TEXT NOT NULL,
  undone INTEGER
);
