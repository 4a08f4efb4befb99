from nailhead.formats.abc.errors import AbcError, Notice
from nailhead.formats.abc.reader import Entry, read_book, read_tune
from nailhead.formats.abc.writer import write_tune

__all__ = ["AbcError", "Entry", "Notice", "read_book", "read_tune", "write_tune"]
