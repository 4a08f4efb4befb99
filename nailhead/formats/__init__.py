"""Readers and writers of open formats: text or bytes in and out, no files."""
