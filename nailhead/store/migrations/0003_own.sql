-- The teacher's own instruments and tunings, as she described them; what is made of them is worked out.
CREATE TABLE own_instrument (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(name) > 0),
    kind TEXT NOT NULL,
    strings INTEGER NOT NULL,
    scale_mm REAL NOT NULL CHECK (scale_mm > 0),
    frets INTEGER NOT NULL,
    half_frets TEXT NOT NULL CHECK (json_valid(half_frets)),
    gauges TEXT NOT NULL,
    courses TEXT NOT NULL CHECK (json_valid(courses)),
    left_handed INTEGER NOT NULL CHECK (left_handed IN (0, 1)),
    -- its first tuning, both empty where it keeps those of its kind
    tuning_name TEXT NOT NULL,
    open_strings TEXT NOT NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE TABLE own_tuning (
    id INTEGER PRIMARY KEY,
    -- a row of the table of instruments ("banjo"), or an own one ("own-7")
    instrument TEXT NOT NULL,
    name TEXT NOT NULL CHECK (length(name) > 0),
    open_strings TEXT NOT NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    UNIQUE (instrument, name)
) STRICT;
