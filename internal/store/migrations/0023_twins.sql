-- Records that look alike and are two all the same; a is the lower number.
CREATE TABLE apart (
  record_type TEXT NOT NULL,
  a INTEGER NOT NULL,
  b INTEGER NOT NULL,
  person INTEGER NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (record_type, a, b)
);
