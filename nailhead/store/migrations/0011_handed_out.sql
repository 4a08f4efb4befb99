-- The rung that an arrangement begins on, written down so that no later engine changes a path that nobody has touched.
-- Before version 7 all but the banjo had one rung; temp.opened_as holds the version that the file had when it was opened.
ALTER TABLE setup ADD COLUMN first_rung INTEGER NOT NULL DEFAULT 2 CHECK (first_rung BETWEEN 1 AND 7);
UPDATE setup SET first_rung = 1
WHERE (SELECT version FROM temp.opened_as) < 7 AND idiom NOT IN ('clawhammer', 'three-finger');

-- Sheets that were printed, exported or sent home: the bars that stood on them, and what they were computed from.
CREATE TABLE handed_out (
    id INTEGER PRIMARY KEY,
    setup_id INTEGER NOT NULL REFERENCES setup (id) ON DELETE CASCADE,
    -- "printed", "PDF", "sent home" …
    how TEXT NOT NULL,
    -- a hash of the engine that computed them
    engine TEXT NOT NULL,
    document TEXT NOT NULL CHECK (json_valid(document)),
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE INDEX handed_out_of_setup ON handed_out (setup_id, id);
