-- Records that were deleted, as they were, until they are brought back or 30 days old.
CREATE TABLE deleted_records (
  record_type TEXT NOT NULL,
  record INTEGER NOT NULL,
  name TEXT NOT NULL,
  row TEXT NOT NULL,
  deleted INTEGER NOT NULL,
  deleted_by INTEGER,
  PRIMARY KEY (record_type, record)
);
CREATE INDEX deleted_records_deleted ON deleted_records (deleted);
