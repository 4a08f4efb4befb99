-- How a player raises the tempo, and in which order she learns: JSON, what is left out stands at its default.
ALTER TABLE setup ADD COLUMN practice TEXT NOT NULL DEFAULT '{}';

-- How far each step of a plan has come. A step is known by what the hands do in it, so it outlives edits elsewhere.
CREATE TABLE practised (
    setup_id INTEGER NOT NULL REFERENCES setup (id) ON DELETE CASCADE,
    step TEXT NOT NULL,
    percent INTEGER NOT NULL,
    clean INTEGER NOT NULL,
    played INTEGER NOT NULL,
    done INTEGER NOT NULL CHECK (done IN (0, 1)),
    played_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    PRIMARY KEY (setup_id, step)
) STRICT;
