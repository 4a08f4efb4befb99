"""Ladders that were built once, kept in a folder beside the data file: tomorrow they need not be searched again.

A file is named by all that its ladder depends on, the engine's own source included, so that none is ever out of date.
What is lost or damaged is built again.
"""

from __future__ import annotations

import hashlib
import io
import os
import pickle
import zlib
from collections.abc import Hashable
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from pathlib import Path

import nailhead.core
from nailhead.core.arrange.fit.ladder import Searched

#: Bytes that the folder may hold; a tune of 64 different bars takes 55,000.
MOST_BYTES = 200_000_000
#: What is made of a file that was written otherwise than here.
_DAMAGED = (
    pickle.UnpicklingError,
    zlib.error,
    EOFError,
    AttributeError,
    ImportError,
    IndexError,
    TypeError,
    ValueError,
)


@dataclass(frozen=True)
class KeptLadders:
    """The folder of a data file. A disk that is full or read-only keeps nothing, and that is all."""

    folder: Path

    def get(self, key: Hashable) -> Searched | None:
        """What was kept under a key, looked at now."""
        file = self._file(key)
        try:
            raw = file.read_bytes()
            os.utime(file)
        except OSError:
            return None
        try:
            found = _Reader(io.BytesIO(zlib.decompress(raw))).load()
        except _DAMAGED:
            found = None
        if isinstance(found, Searched):
            return found
        with suppress(OSError):
            file.unlink()
        return None

    def put(self, key: Hashable, searched: Searched) -> None:
        """Keeps what was found; another process that keeps the same does no harm."""
        file = self._file(key)
        part = file.with_suffix(f".{os.getpid()}")
        with suppress(OSError):
            self.folder.mkdir(exist_ok=True)
            part.write_bytes(zlib.compress(pickle.dumps(searched, protocol=5), 1))
            part.replace(file)

    def tidy(self, most: int = MOST_BYTES) -> None:
        """Forgets those that were looked at longest ago, until no more than so many bytes are left."""
        with suppress(OSError):
            files = sorted(self.folder.iterdir(), key=lambda file: file.stat().st_mtime, reverse=True)
            kept = 0
            for file in files:
                whole = file.suffix == _ENDING  # else a part that was never finished
                kept += whole * file.stat().st_size
                if kept > most or not whole:
                    file.unlink()

    def _file(self, key: Hashable) -> Path:
        return self.folder / (hashlib.sha256(f"{engine()} {key!r}".encode()).hexdigest() + _ENDING)


_ENDING = ".ladder"


def beside(data: Path) -> KeptLadders:
    """Those of a data file."""
    return KeptLadders(data.with_name(f"{data.name}.ladders"))


@cache
def engine() -> str:
    """What tells this engine from every other: its source."""
    whole = hashlib.sha256()
    for file in sorted(Path(nailhead.core.__path__[0]).rglob("*.py")):
        whole.update(file.read_bytes())
    return whole.hexdigest()


class _Reader(pickle.Unpickler):
    """Reads values of the core and nothing else: no file beside the data file can have anything else done."""

    def find_class(self, module: str, name: str) -> type:
        if module.startswith("nailhead.core.") or (module, name) == ("fractions", Fraction.__name__):
            found = super().find_class(module, name)
            if isinstance(found, type):
                return found
        raise pickle.UnpicklingError(f"{module}.{name} is no value of a ladder")
