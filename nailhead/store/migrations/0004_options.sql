-- The choices of an arrangement where players differ, as {what: which}; {} is the usual way.
ALTER TABLE setup ADD COLUMN options TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(options));
