-- The desk: a text that cannot be read yet is kept as a draft; tunes are tagged, archived, and deleted with undo.
ALTER TABLE tune ADD COLUMN draft TEXT;
ALTER TABLE tune ADD COLUMN revision INTEGER NOT NULL DEFAULT 1;
ALTER TABLE tune ADD COLUMN changed_at TEXT NOT NULL DEFAULT '';
ALTER TABLE tune ADD COLUMN archived INTEGER NOT NULL DEFAULT 0 CHECK (archived IN (0, 1));
ALTER TABLE tune ADD COLUMN deleted_at TEXT;
UPDATE tune SET changed_at = created_at;

CREATE TABLE tag (
    tune_id INTEGER NOT NULL REFERENCES tune (id) ON DELETE CASCADE,
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 40),
    PRIMARY KEY (tune_id, name)
) STRICT, WITHOUT ROWID;

CREATE INDEX tag_by_name ON tag (name);

-- What the shelf shows of a tune: worked out from its text, never decided by anyone; made again when `made_by` is old.
CREATE TABLE facts (
    tune_id INTEGER PRIMARY KEY REFERENCES tune (id) ON DELETE CASCADE,
    made_by TEXT NOT NULL,
    key TEXT NOT NULL,
    metre TEXT NOT NULL,
    rhythm TEXT NOT NULL,
    form TEXT NOT NULL,
    bars INTEGER NOT NULL,
    different_bars INTEGER NOT NULL,
    wrong_bars INTEGER NOT NULL,
    lowest TEXT NOT NULL,
    highest TEXT NOT NULL,
    semitones INTEGER NOT NULL,
    chords INTEGER NOT NULL CHECK (chords IN (0, 1)),
    -- title, key, metre, rhythm, form and origin in small letters without accents
    searched TEXT NOT NULL
) STRICT;
