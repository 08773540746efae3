-- What is measured against targets: a name, and the brief that gives the value (JSON).
CREATE TABLE measures (
  key TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  folded TEXT NOT NULL UNIQUE,
  brief TEXT NOT NULL
);

-- A measure's targets by whom and by month.
CREATE TABLE targets (
  measure TEXT NOT NULL REFERENCES measures (key) ON DELETE CASCADE,
  kind TEXT NOT NULL, -- team, person, or empty for everyone
  subject INTEGER NOT NULL, -- the team or person, 0 for everyone
  month INTEGER NOT NULL, -- twelve times the year, and from 0 for January
  amount TEXT NOT NULL, -- decimal
  changed INTEGER NOT NULL,
  changed_by INTEGER NOT NULL REFERENCES people (id),
  PRIMARY KEY (measure, kind, subject, month)
) WITHOUT ROWID;
