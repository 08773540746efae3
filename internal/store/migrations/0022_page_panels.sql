-- In whose light a report stands on the page of a record: that of the record itself, of it and all below it (below), of the
-- one above it (parent), or of all records (all); its heading, and how tall it is in px, 0 for as usual.
ALTER TABLE page_panels ADD COLUMN light TEXT NOT NULL DEFAULT '';
ALTER TABLE page_panels ADD COLUMN heading TEXT NOT NULL DEFAULT '';
ALTER TABLE page_panels ADD COLUMN tall INTEGER NOT NULL DEFAULT 0;
