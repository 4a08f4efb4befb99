"""Plucked strings as sound, and the pitch of a sound: arrays of samples in and out, no files, no devices."""
