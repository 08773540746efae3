-- How a person is laying out the pages of a record type, for a team or (0) for all, without having saved it. A layout is
-- JSON. revision counts its changes, so that two windows notice each other.
CREATE TABLE page_drafts (
  person INTEGER NOT NULL REFERENCES people (id),
  type TEXT NOT NULL,
  team INTEGER NOT NULL,
  version INTEGER NOT NULL, -- of the layout that is being changed
  layout TEXT NOT NULL,
  revision INTEGER NOT NULL,
  changed INTEGER NOT NULL,
  PRIMARY KEY (person, type, team)
);
