-- Folders stand in folders, once, and say who may open them and who may change what lies in them.
ALTER TABLE folders ADD COLUMN parent INTEGER REFERENCES folders (id);
DROP INDEX folders_name;
CREATE UNIQUE INDEX folders_name ON folders (ifnull(parent, 0), lower(name)) WHERE owner IS NULL;
CREATE TABLE folder_access (
  folder INTEGER NOT NULL REFERENCES folders (id) ON DELETE CASCADE,
  kind TEXT NOT NULL, -- everyone, team or person
  subject INTEGER NOT NULL, -- the team or person, 0 for everyone
  may_change INTEGER NOT NULL,
  PRIMARY KEY (folder, kind, subject)
);
INSERT INTO folder_access SELECT id, 'everyone', 0, 1 FROM folders WHERE owner IS NULL;

-- A report is a person's or a team's. One that was deleted keeps its place until it is brought back or 30 days old.
ALTER TABLE reports ADD COLUMN owner_team INTEGER REFERENCES teams (id);
ALTER TABLE reports ADD COLUMN deleted INTEGER;
ALTER TABLE reports ADD COLUMN deleted_by INTEGER REFERENCES people (id);
ALTER TABLE reports ADD COLUMN no_download INTEGER NOT NULL DEFAULT 0;
ALTER TABLE reports ADD COLUMN shown TEXT NOT NULL DEFAULT ''; -- columns of the records behind a number, JSON
ALTER TABLE reports ADD COLUMN shown_fixed INTEGER NOT NULL DEFAULT 0;
DROP INDEX reports_title;
CREATE UNIQUE INDEX reports_title ON reports (folder, folded) WHERE deleted IS NULL;
ALTER TABLE boards ADD COLUMN deleted INTEGER;
ALTER TABLE boards ADD COLUMN deleted_by INTEGER REFERENCES people (id);
DROP INDEX boards_title;
CREATE UNIQUE INDEX boards_title ON boards (folder, folded) WHERE deleted IS NULL;

-- What a report was at each version.
CREATE TABLE versions (
  id INTEGER PRIMARY KEY,
  report INTEGER NOT NULL REFERENCES reports (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  title TEXT NOT NULL,
  description TEXT NOT NULL,
  brief TEXT NOT NULL,
  at INTEGER NOT NULL,
  person INTEGER NOT NULL REFERENCES people (id)
);
CREATE UNIQUE INDEX versions_once ON versions (report, version);
INSERT INTO versions (report, version, title, description, brief, at, person) SELECT id, version, title, description, brief, changed, changed_by FROM reports;

-- Work not kept yet: of a report, or of a new one. revision counts its changes, so that two windows notice each other.
CREATE TABLE drafts (
  id INTEGER PRIMARY KEY,
  person INTEGER NOT NULL REFERENCES people (id),
  report INTEGER REFERENCES reports (id) ON DELETE CASCADE,
  version INTEGER NOT NULL, -- of the report that was changed
  brief TEXT NOT NULL,
  revision INTEGER NOT NULL,
  changed INTEGER NOT NULL
);
CREATE UNIQUE INDEX drafts_once ON drafts (person, report) WHERE report IS NOT NULL;

CREATE TABLE favourites (
  person INTEGER NOT NULL REFERENCES people (id),
  kind TEXT NOT NULL, -- report, board or folder
  item INTEGER NOT NULL,
  PRIMARY KEY (person, kind, item)
);
CREATE TABLE opened (
  person INTEGER NOT NULL REFERENCES people (id),
  kind TEXT NOT NULL,
  item INTEGER NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (person, kind, item)
);

-- Warnings that were dismissed for a report.
CREATE TABLE dismissed (
  report INTEGER NOT NULL REFERENCES reports (id) ON DELETE CASCADE,
  code TEXT NOT NULL,
  person INTEGER NOT NULL REFERENCES people (id),
  PRIMARY KEY (report, code)
);

-- Which records of a type a person may see: those of the team, or the own; of types not named here, everyone's.
CREATE TABLE sees (
  record_type TEXT PRIMARY KEY,
  how TEXT NOT NULL
);

-- What administrators offer to begin from: a record type with first questions, and who sees it.
CREATE TABLE starting_points (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  description TEXT NOT NULL,
  brief TEXT NOT NULL,
  questions TEXT NOT NULL, -- JSON
  teams TEXT NOT NULL, -- JSON, none for everyone
  place INTEGER NOT NULL
);
