-- What is sent to people, when, and what became of each mail.
CREATE TABLE deliveries (
    id INTEGER PRIMARY KEY,
    owner INTEGER NOT NULL,
    title TEXT NOT NULL,
    kind TEXT NOT NULL,
    item INTEGER NOT NULL,
    terms TEXT NOT NULL,
    version INTEGER NOT NULL DEFAULT 1,
    changed INTEGER NOT NULL,
    paused INTEGER NOT NULL DEFAULT 0,
    why TEXT NOT NULL DEFAULT '',
    failures INTEGER NOT NULL DEFAULT 0,
    next INTEGER NOT NULL DEFAULT 0,
    retry INTEGER NOT NULL DEFAULT 0,
    last INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX deliveries_next ON deliveries (next);
-- Who does not want a delivery any more.
CREATE TABLE delivery_left (
    delivery INTEGER NOT NULL,
    person INTEGER NOT NULL,
    PRIMARY KEY (delivery, person)
) WITHOUT ROWID;
-- What a person was told of already: the records of a result, or that a number is past its line.
CREATE TABLE delivery_known (
    delivery INTEGER NOT NULL,
    person INTEGER NOT NULL,
    thing TEXT NOT NULL,
    PRIMARY KEY (delivery, person, thing)
) WITHOUT ROWID;
CREATE TABLE outbox (
    id INTEGER PRIMARY KEY,
    delivery INTEGER NOT NULL,
    recipient INTEGER NOT NULL,
    occasion TEXT NOT NULL,
    address TEXT NOT NULL DEFAULT '',
    subject TEXT NOT NULL DEFAULT '',
    letter BLOB,
    state TEXT NOT NULL,
    reason TEXT NOT NULL DEFAULT '',
    tries INTEGER NOT NULL DEFAULT 0,
    due INTEGER NOT NULL DEFAULT 0,
    made INTEGER NOT NULL,
    sent INTEGER NOT NULL DEFAULT 0,
    UNIQUE (delivery, recipient, occasion)
);
CREATE INDEX outbox_state ON outbox (state, due);
-- What people are told in the application.
CREATE TABLE inbox (
    id INTEGER PRIMARY KEY,
    person INTEGER NOT NULL,
    at INTEGER NOT NULL,
    kind TEXT NOT NULL,
    text TEXT NOT NULL,
    link TEXT NOT NULL DEFAULT '',
    key TEXT NOT NULL,
    read INTEGER NOT NULL DEFAULT 0,
    UNIQUE (person, key)
);
CREATE INDEX inbox_person ON inbox (person, at);
-- How a person has their inbox: up to when they have read what they follow, and which kinds are quiet.
CREATE TABLE inbox_choices (
    person INTEGER PRIMARY KEY,
    seen INTEGER NOT NULL DEFAULT 0,
    quiet TEXT NOT NULL DEFAULT ''
);
