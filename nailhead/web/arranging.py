"""Changes of an arrangement on the bench: each one a function, and one step of undo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from nailhead.core.arrange.rows.ways import CHOICES, options_of
from nailhead.core.arrange.teacher.alternatives import alternatives
from nailhead.core.arrange.teacher.arrangement import (
    Arrangement,
    Kind,
    join_bar,
    keep_cell,
    level,
    lock_bars,
    part_places,
    raise_rungs,
    release_cell,
    set_rungs,
    split_bar,
    unlock_bars,
)
from nailhead.core.arrange.teacher.cells import bring_along, graded
from nailhead.core.arrange.teacher.editing import Desk, Edit, edited
from nailhead.core.arrange.teacher.handed_out import decided, kept_as_handed_out
from nailhead.core.arrange.teacher.limiting import limit_grade
from nailhead.core.arrange.teacher.pinning import with_note_at, with_pattern, with_shape
from nailhead.core.arrange.values import ArrangedBar, Ornament
from nailhead.core.errors import PathError
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.metre import parse_time
from nailhead.formats.arrangement_json import pitch_name
from nailhead.store.setups import StoredSetup
from nailhead.web import change_models as m
from nailhead.web.bench import Bench, handed_out_words, renew, with_handed_out
from nailhead.web.ladders import fit_stored, ladder_of
from nailhead.web.workshop import Workshop


@dataclass(frozen=True)
class Done:
    """A change made: the bench as it is to be, what was done in words, and what a teacher should know of it."""

    bench: Bench
    said: str
    remarks: tuple[str, ...] = ()


def change(bench: Bench, wanted: m.AnyChange, shop: Workshop) -> Done:
    """Make one change; raises what the core raises, with bar and remedy."""
    done = CHANGES[wanted.do](bench, wanted, shop)
    before, after = bench.arrangement.aside, done.bench.arrangement.aside
    new = [one for one in after if one not in before]
    said = tuple(
        f"The {one.cell.kind} bar {done.bench.number_of(one.index)} on rung {one.rung} stays aside: {one.why}"
        for one in new
    )
    return replace(done, remarks=done.remarks + said)


def _with(bench: Bench, arrangement: Arrangement, said: str, *remarks: str) -> Done:
    return Done(replace(bench, arrangement=arrangement), said, remarks)


def _bars(bench: Bench, places: list[int]) -> str:
    """ "bar 3", "bars 3 to 6", "bars 1, 5"."""
    known = [place for place in sorted(set(places)) if 0 <= place < len(bench.computed.tune.bars)]
    numbers = [bench.computed.tune.bars[place].number for place in known]
    if len(numbers) == 1:
        return f"bar {numbers[0]}"
    if known and known == list(range(known[0], known[-1] + 1)):
        return f"bars {numbers[0]} to {numbers[-1]}"
    return f"bars {', '.join(map(str, numbers))}"


def _rungs(bench: Bench, wanted: m.SetRungs, shop: Workshop) -> Done:
    found = set_rungs(bench.computed, bench.arrangement, wanted.places, wanted.rung, wanted.second)
    time = " the second time" if wanted.second else ""
    return _with(bench, found, f"{_bars(bench, wanted.places).capitalize()} on rung {wanted.rung}{time}")


def _raise(bench: Bench, wanted: m.RaiseRungs, shop: Workshop) -> Done:
    found = raise_rungs(bench.computed, bench.arrangement, wanted.places, wanted.by, wanted.second)
    verb = "Raise" if wanted.by > 0 else "Lower"
    time = " the second time" if wanted.second else ""
    return _with(bench, found, f"{verb} {_bars(bench, wanted.places)}{time}")


def _part(bench: Bench, wanted: m.RaisePart, shop: Workshop) -> Done:
    places = part_places(bench.computed, wanted.place)
    found = raise_rungs(bench.computed, bench.arrangement, places, wanted.by)
    letter = next((bar.part for bar in reversed(bench.computed.tune.bars[: wanted.place + 1]) if bar.part), "")
    what = f"every {letter} part" if letter else "the whole tune"
    return _with(bench, found, f"{'Raise' if wanted.by > 0 else 'Lower'} {what}")


def _level(bench: Bench, wanted: m.Level, shop: Workshop) -> Done:
    found = level(bench.computed, bench.arrangement, wanted.rung)
    return _with(bench, found, f"All on rung {wanted.rung}, {bench.computed.idiom.rung(wanted.rung).name}")


def _at_most(bench: Bench, wanted: m.AtMost, shop: Workshop) -> Done:
    found, above = limit_grade(bench.ladder, bench.arrangement, wanted.grade)
    remark = f"Above grade {wanted.grade} all the same: {_bars(bench, list(above))}." if above else ""
    return _with(bench, found, f"Grade {wanted.grade} at most", *filter(None, (remark,)))


def _split(bench: Bench, wanted: m.OneBar, shop: Workshop) -> Done:
    found = split_bar(bench.computed, bench.arrangement, wanted.place)
    return _with(bench, found, f"Split {_bars(bench, [wanted.place])} from its equals")


def _join(bench: Bench, wanted: m.OneBar, shop: Workshop) -> Done:
    found = join_bar(bench.computed, bench.arrangement, wanted.place)
    return _with(bench, found, f"Let {_bars(bench, [wanted.place])} move with its equals")


def _lock(bench: Bench, wanted: m.Lock, shop: Workshop) -> Done:
    found = lock_bars(bench.ladder, bench.arrangement, wanted.places)
    return _with(bench, found, f"Lock {_bars(bench, wanted.places)}")


def _unlock(bench: Bench, wanted: m.Lock, shop: Workshop) -> Done:
    found = unlock_bars(bench.computed, bench.arrangement, wanted.places)
    return _with(bench, found, f"Unlock {_bars(bench, wanted.places)}")


def _kept(bench: Bench, cell: m.OneCell, kind: Kind, bar: ArrangedBar, said: str, difference: str = "") -> Done:
    found = keep_cell(bench.computed, bench.arrangement, cell.place, cell.rung, kind, bar, difference or said)
    return _with(bench, found, f"{said} in {_bars(bench, [cell.place])}")


def _alternative(bench: Bench, wanted: m.TakeAlternative, shop: Workshop) -> Done:
    offered = alternatives(bench.computed, bench.check(wanted.place), wanted.rung)
    other = next((one for one in offered if one.difference == wanted.difference), None)
    if other is None:
        raise PathError(
            f"“{wanted.difference}” is not offered for that bar.",
            field="difference",
            remedy="Look at its other ways again.",
        )
    return _kept(bench, wanted, Kind.ALTERNATIVE, other.bar, "Another way", other.difference)


def _unison(bench: Bench, wanted: m.MoveNote, shop: Workshop) -> Done:
    place = Place(wanted.string, wanted.fret)
    bar = with_note_at(bench.computed, bench.check(wanted.place), wanted.rung, parse_time(wanted.onset, "onset"), place)
    fret = bench.computed.fit.setup.fret_name(wanted.fret)
    said = f"Melody note on string {wanted.string} fret {fret}"
    return _kept(bench, wanted, Kind.ALTERNATIVE, bar, said)


def _pattern(bench: Bench, wanted: m.TakePattern, shop: Workshop) -> Done:
    bar = with_pattern(bench.computed, bench.check(wanted.place), wanted.rung, wanted.pattern)
    return _kept(bench, wanted, Kind.ALTERNATIVE, bar, wanted.pattern.capitalize())


def _shape(bench: Bench, wanted: m.TakeShape, shop: Workshop) -> Done:
    bar = with_shape(
        bench.computed, bench.check(wanted.place), wanted.rung, parse_time(wanted.onset, "onset"), wanted.frets
    )
    return _kept(bench, wanted, Kind.ALTERNATIVE, bar, f"Shape {wanted.frets}")


#: What an edit is called among the steps.
_EDIT_WORDS = {
    "fret": "Another fret",
    "string": "Another string",
    "delete": "Delete a note",
    "add": "Add a note",
    "finger": "Another left finger",
    "touch": "Another stroke",
    "technique": "Ornament",
}


def _edit(bench: Bench, wanted: m.EditNote, shop: Workshop) -> Done:
    desk = Desk(bench.computed, bench.check(wanted.place))
    bar = bench.ladder.cell(wanted.place, wanted.rung)
    note = wanted.edit
    one = Edit(
        note.do,
        parse_time(note.onset, "onset"),
        note.string,
        note.fret,
        note.to_string,
        note.finger,
        note.touch,
        Ornament(note.ornament) if note.ornament else None,
        note.start,
        note.slow,
    )
    changed = graded(bench.computed, wanted.place, edited(desk, bar, one))
    return _kept(bench, wanted, Kind.EDITED, changed, _EDIT_WORDS[note.do], "edited by hand")


def _keep_handed_out(bench: Bench, wanted: m.KeepHandedOut, shop: Workshop) -> Done:
    places = _handed_out(bench, wanted.places)
    kept = kept_as_handed_out(bench.arrangement, places, handed_out_words(bench))
    return _with(bench, kept, f"{_bars(bench, places).capitalize()} as handed out")


def _take_new(bench: Bench, wanted: m.TakeNew, shop: Workshop) -> Done:
    places = _handed_out(bench, wanted.places)
    return Done(renew(bench, places), f"{_bars(bench, places).capitalize()} as computed now")


def _handed_out(bench: Bench, places: list[int]) -> list[int]:
    """Those of some bars that are as they were handed out; raises PathError where none is."""
    there = {index for (index, _), cell in bench.arrangement.cells.items() if cell.kind is Kind.HANDED_OUT}
    found = [place for place in places if place in there]
    if not found:
        raise PathError(
            "None of these bars differs from what was handed out.", field="places", remedy="Reload the ladder."
        )
    return found


def _release(bench: Bench, wanted: m.OneCell, shop: Workshop) -> Done:
    cell = bench.arrangement.cells.get((wanted.place, wanted.rung))
    if cell and cell.kind is Kind.HANDED_OUT:
        return Done(renew(bench, [wanted.place]), f"As computed: {_bars(bench, [wanted.place])}")
    found = release_cell(bench.computed, bench.arrangement, wanted.place, wanted.rung)
    return _with(bench, found, f"As computed: {_bars(bench, [wanted.place])}")


def _choose(bench: Bench, wanted: m.Choose, shop: Workshop) -> Done:
    options = options_of({**bench.setup.options, wanted.name: wanted.way})
    setup = replace(bench.setup, options=options.document())
    return Done(_again(bench, setup, shop), f"{CHOICES[wanted.name].label}: {wanted.way}")


def _own_pattern(bench: Bench, wanted: m.OwnPattern, shop: Workshop) -> Done:
    """A pattern of the teacher's own, new or written otherwise; refused where the hand does not play its signs."""
    others = tuple(row for row in bench.setup.patterns if row[0] != wanted.name)
    setup = replace(bench.setup, patterns=(*others, (wanted.name, wanted.text)))
    return Done(_again(bench, setup, shop), f"Own pattern {wanted.name}")


def _drop_pattern(bench: Bench, wanted: m.DropPattern, shop: Workshop) -> Done:
    left = tuple(row for row in bench.setup.patterns if row[0] != wanted.name)
    if len(left) == len(bench.setup.patterns):
        raise PathError(f"There is no own pattern “{wanted.name}”.", field="name", remedy="Reload the ladder.")
    return Done(_again(bench, replace(bench.setup, patterns=left), shop), f"Without the pattern {wanted.name}")


def _retune(bench: Bench, wanted: m.Retune, shop: Workshop) -> Done:
    instrument = shop.find(bench.setup.instrument)
    fit = fit_stored(
        bench.tune.abc, instrument, bench.setup.idiom, wanted.tuning, wanted.capo, wanted.fifth, wanted.key
    )
    setup = replace(
        bench.setup,
        tuning=fit.setup.tuning.id,
        capo=fit.setup.capo,
        fifth=pitch_name(fit.setup.fifth) if fit.setup.fifth else None,
        sounding_key=str(fit.sounding_key.tonic).replace("♯", "#").replace("♭", "b"),
    )
    return Done(_again(bench, setup, shop), f"Set up as {fit.setup.label}")


def _again(bench: Bench, setup: StoredSetup, shop: Workshop) -> Bench:
    """The bench on a ladder computed anew, kept cells brought along as far as they can be."""
    computed = ladder_of(bench.tune, setup, shop)
    brought = bring_along(computed, decided(bench.arrangement))
    return with_handed_out(replace(bench, setup=setup, computed=computed, arrangement=brought))


def _sheet(bench: Bench, wanted: m.ChooseSheet, shop: Workshop) -> Done:
    shown = wanted.options.model_dump(exclude_none=True)
    return Done(replace(bench, sheet=replace(bench.sheet, **shown)), "What the sheet shows")


def _throw(bench: Bench, wanted: m.ThrowAway, shop: Workshop) -> Done:
    aside = bench.arrangement.aside
    if not 0 <= wanted.number < len(aside):
        raise PathError(f"Nothing is aside as number {wanted.number}.", field="number", remedy="Reload the ladder.")
    left = aside[: wanted.number] + aside[wanted.number + 1 :]
    number = bench.number_of(aside[wanted.number].index)
    return _with(bench, replace(bench.arrangement, aside=left), f"Throw away what was aside for bar {number}")


#: What a change is called -> what it does.
CHANGES: dict[str, Callable[[Bench, Any, Workshop], Done]] = {
    "rungs": _rungs,
    "raise": _raise,
    "raise part": _part,
    "level": _level,
    "at most": _at_most,
    "split": _split,
    "join": _join,
    "lock": _lock,
    "unlock": _unlock,
    "alternative": _alternative,
    "unison": _unison,
    "pattern": _pattern,
    "shape": _shape,
    "edit": _edit,
    "release": _release,
    "keep handed out": _keep_handed_out,
    "take new": _take_new,
    "choose": _choose,
    "own pattern": _own_pattern,
    "drop pattern": _drop_pattern,
    "setup": _retune,
    "throw away": _throw,
    "sheet": _sheet,
}
