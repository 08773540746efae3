-- Results that a person kept as they were: the question, and the answer whole (gzip over JSON).
CREATE TABLE kept_results (
    id INTEGER PRIMARY KEY,
    owner INTEGER NOT NULL,
    report INTEGER NOT NULL DEFAULT 0,
    name TEXT NOT NULL,
    day TEXT NOT NULL,
    at INTEGER NOT NULL,
    brief TEXT NOT NULL,
    fixed INTEGER NOT NULL DEFAULT 0,
    copy BLOB NOT NULL
);
CREATE INDEX kept_results_owner ON kept_results (owner, at);
