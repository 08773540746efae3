-- What was changed in the settings, when and by whom, with what it was before and after.
CREATE TABLE setting_changes (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  person INTEGER NOT NULL,
  name TEXT NOT NULL,
  before TEXT NOT NULL,
  after TEXT NOT NULL
);
