-- A teacher's own right-hand patterns for an arrangement, as [[name, text], …]; they are read by its way of playing.
ALTER TABLE setup ADD COLUMN patterns TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(patterns));
