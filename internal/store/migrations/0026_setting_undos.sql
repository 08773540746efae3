-- What a change of the shape of records did to records and reports besides the settings, so that it can be taken back.
CREATE TABLE setting_undos (
    change INTEGER PRIMARY KEY REFERENCES setting_changes (id) ON DELETE CASCADE,
    undo TEXT NOT NULL
);
