"""Whole books of tunes, arranged and printed into a folder: on this machine or on a cluster."""
