-- The shelf: tunes as the teacher brought them, how each is set up, the path through its ladder.
CREATE TABLE tune (
    id INTEGER PRIMARY KEY,
    title TEXT NOT NULL CHECK (length(title) > 0),
    abc TEXT NOT NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE TABLE setup (
    id INTEGER PRIMARY KEY,
    tune_id INTEGER NOT NULL REFERENCES tune (id) ON DELETE CASCADE,
    instrument TEXT NOT NULL,
    idiom TEXT NOT NULL,
    tuning TEXT NOT NULL,
    capo INTEGER NOT NULL CHECK (capo >= 0),
    fifth TEXT,
    sounding_key TEXT NOT NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE INDEX setup_of_tune ON setup (tune_id);

CREATE TABLE path (
    setup_id INTEGER PRIMARY KEY REFERENCES setup (id) ON DELETE CASCADE,
    -- one rung for each written bar, in order
    rungs TEXT NOT NULL CHECK (json_valid(rungs)),
    -- counts up at every change, so that two windows do not overwrite each other unseen
    revision INTEGER NOT NULL DEFAULT 1
) STRICT;
