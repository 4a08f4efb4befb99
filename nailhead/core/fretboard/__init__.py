"""Instruments, tunings, capo and the setup they make: everything that differs is data."""
