"""The rules of the job: pure computation, no web, no database, no files, no clock, no randomness."""
