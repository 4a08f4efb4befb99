-- What a teacher decides on a ladder, step by step: undo goes back a step, redo forward again.
ALTER TABLE setup ADD COLUMN name TEXT NOT NULL DEFAULT '';
-- counts up at every change, so that two windows do not overwrite each other unseen
ALTER TABLE setup ADD COLUMN revision INTEGER NOT NULL DEFAULT 0;
-- the step it stands at; later ones can be redone
ALTER TABLE setup ADD COLUMN step INTEGER NOT NULL DEFAULT 0;

CREATE TABLE step (
    setup_id INTEGER NOT NULL REFERENCES setup (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    -- what was done, in words; that of the first step is empty
    said TEXT NOT NULL,
    -- decisions, setup, options and sheet as they were after it
    document TEXT NOT NULL CHECK (json_valid(document)),
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    PRIMARY KEY (setup_id, number)
) STRICT;

INSERT INTO step (setup_id, number, said, document)
SELECT setup_id, 0, '', json_object('decisions', json_object('rungs', json(rungs))) FROM path;

UPDATE setup SET revision = (SELECT revision FROM path WHERE setup_id = setup.id)
WHERE id IN (SELECT setup_id FROM path);

DROP TABLE path;
