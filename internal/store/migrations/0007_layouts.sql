-- What a dashboard was at each version. A layout is JSON: the panels, and what they are narrowed to.
CREATE TABLE board_versions (
  id INTEGER PRIMARY KEY,
  board INTEGER NOT NULL REFERENCES boards (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  title TEXT NOT NULL,
  layout TEXT NOT NULL,
  at INTEGER NOT NULL,
  person INTEGER NOT NULL REFERENCES people (id)
);
CREATE UNIQUE INDEX board_versions_once ON board_versions (board, version);
INSERT INTO board_versions (board, version, title, layout, at, person)
  SELECT id, version, title, json_object('filters', filters, 'panels', (SELECT json_group_array(json_object('report', ifnull(report, 0), 'x', x, 'y', y, 'w', w, 'h', h, 'options', options))
    FROM panels WHERE panels.board = boards.id)), changed, owner FROM boards;

-- How a person has arranged a dashboard without saving it yet. revision counts its changes, so that two windows notice
-- each other.
CREATE TABLE board_drafts (
  person INTEGER NOT NULL REFERENCES people (id),
  board INTEGER NOT NULL REFERENCES boards (id) ON DELETE CASCADE,
  version INTEGER NOT NULL, -- of the dashboard that was arranged
  layout TEXT NOT NULL,
  revision INTEGER NOT NULL,
  changed INTEGER NOT NULL,
  PRIMARY KEY (person, board)
);

-- The order in which a person sees dashboards; those not named come after, by title.
CREATE TABLE board_order (
  person INTEGER NOT NULL REFERENCES people (id),
  board INTEGER NOT NULL REFERENCES boards (id) ON DELETE CASCADE,
  place INTEGER NOT NULL,
  PRIMARY KEY (person, board)
);
