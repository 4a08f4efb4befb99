-- Changes that have been made, by the id their sender gave them: a change that is sent again is not made twice.
CREATE TABLE applied_change (
    setup_id INTEGER NOT NULL REFERENCES setup (id) ON DELETE CASCADE,
    id TEXT NOT NULL CHECK (length(id) BETWEEN 1 AND 64),
    -- the arrangement's revision after it
    revision INTEGER NOT NULL,
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    PRIMARY KEY (setup_id, id)
) STRICT, WITHOUT ROWID;
