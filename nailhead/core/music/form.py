"""The form of a tune: parts and how often they are played, phrases that call and answer, bars that do not add up."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nailhead.core.errors import TuneError
from nailhead.core.figures import clipped
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import phrases_of, read_structure
from nailhead.core.music.tune import Bar, Tune, find_problems, held_at_start, performance

#: Part labels of their own kind: played once, at the very start and the very end, and no letter of the form.
KICK_OFF, ENDING = "kick-off", "ending"
#: Parts of an expanded order; more is a mistake, not a performance.
MOST_PARTS = 200
#: Signs of an order as it is written.
MOST_ORDER = 2_000
#: A part written out without repeats is cut after so many bars.
PART_BARS = 8
#: Calls and answers told of in words; a tune has many small ones.
MOST_ANSWERS = 3


@dataclass(frozen=True, slots=True)
class EndingSpan:
    """An ending: the times through it is played on, and its written bars (start, stop)."""

    times: tuple[int, ...]
    start: int
    stop: int


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the tune: written bars (start, stop), its letter, and how often it is played in a row.

    `letter` is the written label, or A, B, … for bars met for the first time; A′ ends otherwise than A. `upbeat` is
    the length of its own pickup, 0 for none.
    """

    letter: str
    start: int
    stop: int
    times: int
    endings: tuple[EndingSpan, ...]
    upbeat: Time


@dataclass(frozen=True, slots=True)
class Phrase:
    """Bars (start, stop) with a letter: equal phrases share it, one that only ends otherwise gets a ′."""

    letter: str
    start: int
    stop: int


@dataclass(frozen=True, slots=True)
class BarRow:
    """A line of the bar table. `missing` is 0 where the bar adds up (or a pickup makes it whole)."""

    number: int
    length: Time
    needed: Time
    missing: Time
    letter: str
    first: int
    new: bool


@dataclass(frozen=True)
class Form:
    """What the desk says of a tune's form. `order` lists part indices as played; `played` the written bars."""

    parts: tuple[Part, ...]
    text: str
    order: tuple[int, ...]
    played: tuple[int, ...]
    phrases: tuple[Phrase, ...]
    half_phrases: tuple[Phrase, ...]
    bars: tuple[BarRow, ...]
    sentences: tuple[str, ...]


def read_form(tune: Tune) -> Form:
    """The form of a tune. An order that names a part the tune lacks is left out, and said."""
    parts = parts_of(tune)
    remarks: list[str] = []
    try:
        order = play_order(tune, parts)
    except TuneError as error:
        order = _as_written(parts)
        remarks.append(str(error))
    content = _contents(tune)
    phrases = _phrases(content, phrases_of(tune.bars))
    halves = _phrases(content, phrases_of(tune.bars, 2))
    rows = bar_table(tune)
    return Form(
        parts,
        _letters(parts, order),
        order,
        tuple(_played(tune, parts, order)),
        phrases,
        halves,
        rows,
        (*remarks, *_sentences(rows, phrases, halves, tune.bars)),
    )


def _contents(tune: Tune) -> list[int]:
    """A number for the melody of each bar, the same for the same."""
    held = held_at_start(tune.bars)
    seen: dict[object, int] = {}
    found = []
    for index, bar in enumerate(tune.bars):
        melody = tuple((event.onset, event.duration, event.pitch, event.tied) for event in bar.events)
        found.append(seen.setdefault((melody, held[index]), len(seen)))
    return found


class _Letters:
    """Letters of stretches of bars, given as they come: looked up, so that a long tune takes no longer a bar."""

    def __init__(self) -> None:
        self._whole: dict[tuple[int, ...], str] = {}
        self._beginnings: dict[tuple[int, tuple[int, ...]], str] = {}
        self._names: set[str] = set()
        self._stems: set[str] = set()
        self._free = _alphabet()

    def of(self, body: Sequence[int]) -> str:
        """The letter of an equal stretch, its ′ where only the end differs, or the next free one."""
        if found := self._whole.get(tuple(body)):
            return found
        if len(body) > 1 and (like := self._beginnings.get(_beginning(body))):
            fresh = like.rstrip("′") + "′"
            while fresh in self._names:
                fresh += "′"
            return fresh
        return next(letter for letter in self._free if letter not in self._stems)

    def put(self, letter: str, body: Sequence[int]) -> None:
        """Remembers a stretch under its letter."""
        self._names.add(letter)
        self._stems.add(letter.rstrip("′"))
        self._whole.setdefault(tuple(body), letter)
        self._beginnings.setdefault(_beginning(body), letter)

    def __contains__(self, letter: str) -> bool:
        return letter in self._names


def _beginning(body: Sequence[int]) -> tuple[int, tuple[int, ...]]:
    """Length, and all but the last quarter (of two bars, or one bar of two to four)."""
    return len(body), tuple(body[: -max(1, len(body) // 4)])


# -- parts


def parts_of(tune: Tune) -> tuple[Part, ...]:
    """Cuts the tune where a part is labelled, a repeat opens or closes, or a double line stands."""
    content = _contents(tune)
    parts: list[Part] = []
    known = _Letters()
    for start, stop in _spans(tune.bars):
        body = [content[index] for index in range(start, stop) if not _upbeat(tune.bars[index])]
        lead = start + 1 < stop and _upbeat(tune.bars[start])
        label = tune.bars[start].part or (tune.bars[start + 1].part if lead else "")
        letter = label or known.of(body)
        if not label or letter not in known:
            known.put(letter, body)
        first = tune.bars[start]
        upbeat = first.length if _upbeat(first) else Time(0)
        parts.append(
            Part(letter, start, stop, _times(tune.bars, start, stop), _endings(tune.bars, start, stop), upbeat)
        )
    return tuple(parts)


def _upbeat(bar: Bar) -> bool:
    return not bar.metre.free and bar.length < bar.metre.length and not bar.ends_section


def _spans(bars: Sequence[Bar]) -> Iterator[tuple[int, int]]:
    start = 0
    for index, bar in enumerate(bars):
        following = bars[index + 1] if index + 1 < len(bars) else None
        ends = bar.ends_section and not (following and following.endings)
        if following and index == start and _upbeat(bar):
            continue  # a pickup before the sign of its part belongs to that part
        if following is None or ends or following.part or (following.opens_repeat and not following.endings):
            yield from _eights(bars, start, index + 1)
            start = index + 1


def _eights(bars: Sequence[Bar], start: int, stop: int) -> Iterator[tuple[int, int]]:
    """A long stretch without signs is cut into parts of eight bars where it holds a whole number of them."""
    plain = not any(bar.closes_repeat or bar.endings or bar.part for bar in bars[start:stop])
    lead = 1 if _upbeat(bars[start]) else 0
    count = stop - start - lead
    if not plain or count <= PART_BARS or count % PART_BARS:
        yield start, stop
        return
    for at in range(start, stop - lead, PART_BARS):
        yield (at if at == start else at + lead), at + lead + PART_BARS


def _times(bars: Sequence[Bar], start: int, stop: int) -> int:
    return max([1, *(bar.closes_repeat for bar in bars[start:stop]), *(n for b in bars[start:stop] for n in b.endings)])


def _endings(bars: Sequence[Bar], start: int, stop: int) -> tuple[EndingSpan, ...]:
    begins = [index for index in range(start, stop) if bars[index].endings]
    return tuple(
        EndingSpan(bars[first].endings, first, last) for first, last in zip(begins, [*begins[1:], stop], strict=False)
    )


def _alphabet() -> Iterator[str]:
    for round_ in range(1, 100):
        for code in range(ord("A"), ord("Z") + 1):
            yield chr(code) * round_


# -- the order of the performance


def _as_written(parts: Sequence[Part]) -> tuple[int, ...]:
    return tuple(index for index, part in enumerate(parts) for _ in range(part.times))


def expand_order(order: str, letters: Sequence[str]) -> tuple[str, ...]:
    """The parts an order names, one by one: "AABB", "A2B2", "(AB)2C" or labels parted by spaces (ABC 2.1, §3.1.9).

    Raises TuneError for a part the tune lacks or a bracket that does not close.
    """
    if len(order) > MOST_ORDER:
        raise TuneError("The order is too long.", field="order", remedy=f"Write at most {MOST_ORDER} signs.")
    names = sorted((name for name in set(letters) if name), key=len, reverse=True)
    token = re.compile("|".join([*map(re.escape, names), r"[()]", r"\d+", r"[\s.,*]+", "."]))
    stack: list[list[str]] = [[]]
    last: list[str] = []
    for piece in token.findall(order):
        if piece in names:
            last = [piece]
            stack[-1] += last
        elif piece == "(":
            stack.append([])
            last = []
        elif piece == ")" and len(stack) > 1:
            last = stack.pop()
            stack[-1] += last
        elif piece[0].isdecimal() and last:
            stack[-1] += last * (min(clipped(piece, MOST_PARTS), MOST_PARTS) - 1)
            last = []
        elif piece.strip(" .,*\t"):
            named = ", ".join(sorted(set(letters)))
            raise TuneError(
                f"The order “{order}” names “{piece}”.", field="order", remedy=f"The tune has the parts {named}."
            )
        if sum(map(len, stack)) > MOST_PARTS:
            raise TuneError("The order is too long.", field="order", remedy=f"Play at most {MOST_PARTS} parts.")
    if len(stack) > 1:
        raise TuneError(f"A bracket in the order “{order}” is not closed.", field="order", remedy="Write (AB)2.")
    return tuple(stack[0])


def play_order(tune: Tune, parts: Sequence[Part]) -> tuple[int, ...]:
    """Part indices as played. The order field counts where there is one, else parts and repeats as written.

    A part labelled kick-off or ending is played once, first or last, whatever the order says.
    """
    special = [index for index, part in enumerate(parts) if part.letter.casefold() in (KICK_OFF, ENDING)]
    normal = [index for index in range(len(parts)) if index not in special]
    if tune.order and normal:
        first_of = {parts[index].letter: index for index in reversed(normal)}
        middle = tuple(first_of[letter] for letter in expand_order(tune.order, list(first_of)))
    else:
        middle = tuple(index for index in normal for _ in range(parts[index].times))
    before = tuple(index for index in special if parts[index].letter.casefold() == KICK_OFF)
    after = tuple(index for index in special if parts[index].letter.casefold() == ENDING)
    return (*before, *middle, *after)


def played_bars(tune: Tune) -> tuple[int, ...]:
    """Written bars as they are performed: in the order that the tune gives its parts, else as its repeats say."""
    if not tune.order:
        return tuple(performance(tune.bars))
    parts = parts_of(tune)
    try:
        order = play_order(tune, parts)
    except TuneError:
        return tuple(performance(tune.bars))
    return tuple(_played(tune, parts, order))


def _played(tune: Tune, parts: Sequence[Part], order: Sequence[int]) -> Iterator[int]:
    """Written bars in the order of the performance; each pass of a part takes the ending of its turn."""
    passes = [_passes(tune.bars[part.start : part.stop], part.start) for part in parts]
    turn, last = 0, -1
    for index in order:
        turn = turn + 1 if index == last else 0
        last = index
        yield from passes[index][turn % len(passes[index])]


def _passes(bars: tuple[Bar, ...], offset: int) -> list[list[int]]:
    """The times through a part, each as written bars."""
    passes: list[list[int]] = [[]]
    for place in performance(bars):
        if passes[-1] and place + offset <= passes[-1][-1]:
            passes.append([])
        passes[-1].append(place + offset)
    return passes


def _letters(parts: Sequence[Part], order: Sequence[int]) -> str:
    """ "AABB", or with long labels "Verse Verse Chorus"; kick-off and ending are no letters of the form."""
    names = [parts[index].letter for index in order if parts[index].letter.casefold() not in (KICK_OFF, ENDING)]
    return ("" if all(len(name.rstrip("′")) == 1 for name in names) else " ").join(names)


# -- phrases and bars


def _phrases(content: list[int], spans: Sequence[tuple[int, int]]) -> tuple[Phrase, ...]:
    known = _Letters()
    found = []
    for start, stop in spans:
        body = content[start:stop]
        letter = known.of(body)
        known.put(letter, body)
        found.append(Phrase(letter.lower(), start, stop))
    return tuple(found)


def bar_table(tune: Tune) -> tuple[BarRow, ...]:
    """Every bar's length against its metre, its letter, and whether it is met for the first time."""
    structure = read_structure(tune)
    wrong = {problem.bar: problem.missing for problem in find_problems(tune)}
    return tuple(
        BarRow(
            bar.number,
            bar.length,
            bar.length if bar.metre.free else bar.metre.length,
            wrong.get(bar.number, Time(0)),
            structure.letters[index],
            tune.bars[structure.classes[index]].number,
            structure.classes[index] == index,
        )
        for index, bar in enumerate(tune.bars)
    )


def _sentences(
    rows: Sequence[BarRow], phrases: Sequence[Phrase], halves: Sequence[Phrase], bars: Sequence[Bar]
) -> Iterator[str]:
    new = sum(row.new for row in rows)
    are = "is" if new == 1 else "are"
    yield f"{new} of {len(rows)} {'bar' if len(rows) == 1 else 'bars'} {are} new."
    wrong = [row for row in rows if row.missing]
    if wrong:
        yield "Does not add up: bar " + ", ".join(str(row.number) for row in wrong) + "."
    answers = [*_answers(phrases), *_answers(halves)]
    for call, answer in answers[:MOST_ANSWERS]:
        yield f"Bars {_range(bars, call)} call, {_range(bars, answer)} answer: the same beginning, another end."


def _answers(phrases: Sequence[Phrase]) -> Iterator[tuple[Phrase, Phrase]]:
    """Each phrase that begins like an earlier one and ends otherwise, with the one it answers."""
    first = {phrase.letter: phrase for phrase in reversed(phrases)}
    for letter, phrase in sorted(first.items(), key=lambda item: item[1].start):
        if letter.endswith("′"):
            yield first[letter.rstrip("′")], phrase


def _range(bars: Sequence[Bar], phrase: Phrase) -> str:
    first, last = bars[phrase.start].number, bars[phrase.stop - 1].number
    return f"{first} to {last}" if first != last else str(first)
