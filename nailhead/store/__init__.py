"""What a teacher decided, kept in one SQLite file. Nothing computed is stored."""
