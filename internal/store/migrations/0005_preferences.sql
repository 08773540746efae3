-- What the organisation sets for everyone, by name (JSON): the house style.
CREATE TABLE preferences (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL
);
