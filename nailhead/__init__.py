"""Nailhead: a teacher's bench for folk tunes on fretted instruments."""

__version__ = "0.1.0"
