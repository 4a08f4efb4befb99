
from nailhead.formats.abc.errors import AbcError, Notice
from nailhead.formats.abc.reader import Entry, read_book, read_tune

__all__ = ["AbcError", "Entry", "Notice", "read_book", "read_tune"]
