-- Deleting and bringing back are changes of the field "deleted", so that the state of an earlier day has what was deleted since.
INSERT INTO changes (record_type, record, field, "from", "to", at, person)
SELECT record_type, record, 'deleted', NULL, 'true', deleted, deleted_by FROM deleted_records ORDER BY deleted;
