"""Keeps what is freed from staying with the process: settings of the C library's allocator."""

from __future__ import annotations

import ctypes
import gc
import sys

#: glibc's mallopt(3): parameters M_MMAP_THRESHOLD, M_TRIM_THRESHOLD, M_ARENA_MAX.
_MMAP_THRESHOLD, _TRIM_THRESHOLD, _ARENA_MAX = -3, -1, -8
#: Blocks of so many bytes are mapped by themselves and given back when they are freed.
_MAPPED_FROM = 128 * 1024
_ARENAS = 2


def give_back_freed() -> None:
    """From now on large blocks go back to the system when they are freed; nothing happens without glibc.

    Left to itself glibc raises its threshold to the largest block that was ever freed, up to 32 MB (mallopt(3)): the
    sound of one tune is then cut out of the heap, and every later one leaves holes in it.
    """
    library = _library()
    if library:
        library.mallopt(_MMAP_THRESHOLD, _MAPPED_FROM)
        library.mallopt(_TRIM_THRESHOLD, _MAPPED_FROM)
        library.mallopt(_ARENA_MAX, _ARENAS)


def tidy_up() -> None:
    """Frees what only circles hold, and gives the free ends of the heap back; some milliseconds."""
    gc.collect(1)
    if library := _library():
        library.malloc_trim(0)


def _library() -> ctypes.CDLL | None:
    if not sys.platform.startswith("linux"):
        return None
    try:
        library = ctypes.CDLL("libc.so.6")
        _ = library.mallopt, library.malloc_trim
    except (OSError, AttributeError):
        return None
    return library
