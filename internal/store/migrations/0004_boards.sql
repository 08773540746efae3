-- A panel holds a report, or words of its own; options says how it differs from the report as it was kept (JSON).
CREATE TABLE panels_next (
  id INTEGER PRIMARY KEY,
  board INTEGER NOT NULL REFERENCES boards (id) ON DELETE CASCADE,
  report INTEGER REFERENCES reports (id), -- NULL for a panel of words
  x INTEGER NOT NULL,
  y INTEGER NOT NULL,
  w INTEGER NOT NULL,
  h INTEGER NOT NULL,
  options TEXT NOT NULL DEFAULT ''
);
INSERT INTO panels_next SELECT id, board, report, x, y, w, h, '' FROM panels;
DROP TABLE panels;
ALTER TABLE panels_next RENAME TO panels;
CREATE INDEX panels_board ON panels (board);
CREATE INDEX panels_report ON panels (report);

-- What a board's panels are narrowed to when it opens (JSON).
ALTER TABLE boards ADD COLUMN filters TEXT NOT NULL DEFAULT '';
