"""What a teacher decides on a ladder: the path, kept cells, hand edits, other ways."""
