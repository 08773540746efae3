-- How often something was changed that is kept once for all (a folder, a starting point, a preference, a measure's targets,
-- what a record type's people see), so that the second of two who change it is told.
CREATE TABLE setting_versions (
  name TEXT PRIMARY KEY, -- kind:key
  version INTEGER NOT NULL
);

-- Who made a shared folder and says who may open it, besides administrators.
ALTER TABLE folders ADD COLUMN keeper INTEGER REFERENCES people (id);

-- Conditions that an owner fixed are no longer handed out, sealed or not.
DROP TABLE secrets;
