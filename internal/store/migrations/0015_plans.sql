-- How each file was brought in, so that the next with the same columns is brought in likewise.
ALTER TABLE imports ADD COLUMN header TEXT NOT NULL DEFAULT '';
ALTER TABLE imports ADD COLUMN plan TEXT NOT NULL DEFAULT '';
