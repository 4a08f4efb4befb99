"""Work grows with the length of what is read, not with its square: counted in calls, not in seconds.

And what is longer than anything of use is refused with its limit before it is worked on.
"""

from __future__ import annotations

import cProfile
import pstats
import random
from collections.abc import Callable
from fractions import Fraction

import pytest

from nailhead.core.errors import NailheadError
from nailhead.core.music.quantise import PlayedNote, guess_bars, guess_grid, single_line, write_out
from nailhead.formats.abc import read_book, read_tune
from nailhead.web.bring_in import open_book
from nailhead.web.desk import propose, read_desk, sounds
from nailhead.web.shelf import facts_of

HEAD = "X:1\nT:a\nM:4/4\nL:1/8\nK:G\n"


def bars(count: int) -> str:
    """Bars that are all different."""
    made = random.Random(count)
    return HEAD + "".join(
        "".join(made.choices("GABcdefg", k=8)) + ("|\n" if at % 4 == 3 else "|") for at in range(count)
    )


def played(count: int) -> None:
    """A hand's playing, brought into bars."""
    made, at, notes = random.Random(count), Fraction(0), []
    for _ in range(count):
        length = made.choice((Fraction(1, 8), Fraction(1, 4)))
        off = Fraction(made.randint(-20, 20), 1920)
        notes.append(PlayedNote(max(Fraction(0), at + off), at + length * Fraction(9, 10), made.randint(60, 72)))
        at += length
    line = single_line(notes, guess_grid(notes))
    metre, pickup = guess_bars(line)
    write_out(line, title="a", metre=metre, pickup=pickup)


#: What is done -> with how much of it, once and twice.
WORK: dict[str, tuple[Callable[[int], object], int]] = {
    "blank lines": (lambda n: read_book("X:1\n" + "\n" * n), 500),
    "tunes of a book": (lambda n: open_book("X:1\nK:G\nG\n" * n), 200),
    "the first of many": (lambda n: read_tune("X:1\nK:G\nG4|\n\n" * n), 200),
    "bars": (lambda n: read_book(bars(n)), 60),
    "the desk": (lambda n: read_desk(bars(n)), 60),
    "chords": (lambda n: propose(bars(n)), 40),
    "the melody in time": (lambda n: sounds(bars(n)), 60),
    "what the shelf says": (lambda n: facts_of(read_tune(bars(n)).tune), 60),  # type: ignore[arg-type]
    "lines of words": (lambda n: read_book(HEAD + "GABc|\n" + "w:a b\n" * n), 100),
    "chords over one note": (lambda n: read_book(HEAD + '"G"' * n + "G|"), 200),
    "chords in a bar": (lambda n: read_book(HEAD + '"G"G' * n), 200),
    "open brackets": (lambda n: read_desk(f"X:1\nM:4/4\nP:{'(' * n}\nK:G\nP:A\nG8|"), 400),
    "signs in an order": (lambda n: read_desk(f"X:1\nM:4/4\nP:{'(A)2' * n}\nK:G\nP:A\nG8|"), 30),
    "notes of a MIDI file": (played, 150),
}


def calls(work: Callable[[int], object], count: int) -> int:
    """How many functions are called."""
    profile = cProfile.Profile()
    profile.enable()
    work(count)
    profile.disable()
    return int(pstats.Stats(profile).total_calls)  # type: ignore[attr-defined]


@pytest.mark.parametrize("name", WORK)
def test_twice_as_much_is_twice_the_work(name: str) -> None:
    """From once to twice as much no more is added than a tenth above what a line through nought would give."""
    work, count = WORK[name]
    work(2)  # what is loaded and remembered at the first time
    once, twice = calls(work, count), calls(work, 2 * count)
    assert twice <= 2.1 * once + 200, (once, twice)


TOO_MUCH = {
    "8,000 blank lines": "X:1\n" + "\n" * 8000,
    "a bar of 190,000 notes": HEAD + "G" * 190_000,
    "90,000 ties": HEAD + "G-" * 90_000,
    "4,000 bars": bars(4000),
    "a tune of 300,000 signs": HEAD + "% a" * 100_000,
}


@pytest.mark.parametrize("name", TOO_MUCH)
def test_what_is_too_long_is_said(name: str) -> None:
    """With the limit, after no more work than a tune of that limit is."""
    limit = calls(lambda count: read_book(bars(count)), 2000)

    def refused(_: int) -> None:
        (entry,) = read_book(TOO_MUCH[name])
        assert entry.error and entry.error.remedy
        with pytest.raises(NailheadError):
            propose(TOO_MUCH[name])
        assert read_desk(TOO_MUCH[name]).readable is False

    assert calls(refused, 1) <= 4 * limit
