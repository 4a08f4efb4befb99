-- When a tune was last worked on, so that the shelf can begin with it; what is never opened stands by when it came.
ALTER TABLE tune ADD COLUMN opened_at TEXT;

-- What the teacher has settled once: a name and JSON, what is left out stands at its default.
CREATE TABLE setting (
    name TEXT PRIMARY KEY CHECK (length(name) BETWEEN 1 AND 40),
    value TEXT NOT NULL CHECK (json_valid(value))
) STRICT, WITHOUT ROWID;
