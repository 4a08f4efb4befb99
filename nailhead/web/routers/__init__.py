"""The handlers, one module a place."""
