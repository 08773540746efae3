-- When a person looked at a record: in this visit, and in the one before it.
CREATE TABLE looks (
    person INTEGER NOT NULL,
    record_type TEXT NOT NULL,
    record INTEGER NOT NULL,
    at INTEGER NOT NULL,
    earlier INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (person, record_type, record)
) WITHOUT ROWID;
CREATE INDEX looks_at ON looks (at);
