-- A single report or dashboard that someone may open, or change, besides those who may open the folder that it lies in.
CREATE TABLE shares (
  item_kind TEXT NOT NULL CHECK (item_kind IN ('report', 'board')),
  item INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('everyone', 'team', 'person')),
  subject INTEGER NOT NULL,
  may_change INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (item_kind, item, kind, subject)
);
CREATE INDEX shares_of ON shares (kind, subject, item_kind, item);
