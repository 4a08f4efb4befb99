"""Pitch, exact time, key, chord and the tune."""
