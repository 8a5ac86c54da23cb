-- Documents are in snapshots and the journal now; 002 is followed by the step that moves them there.
ALTER TABLE scene DROP COLUMN document;
