"""The arrangement as plain data: times as exact fractions in strings, pitches as they sound."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from nailhead import __version__
from nailhead.core.arrange.fit.ladder import Frame, Ladder
from nailhead.core.arrange.rows.touches import touch_row
from nailhead.core.arrange.teacher.path import Path, bars_on_path, grade_path
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Grade, Role, Stroke, Touch
from nailhead.core.fretboard.fit import Fit
from nailhead.core.music.chord import transpose_chord
from nailhead.core.music.decisions import decisions_of, written
from nailhead.core.music.layers import CoreNote, Layer
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar

FORMAT = "nailhead arrangement"
#: 2: a note says its touch (finger and way) instead of one word for both.
VERSION = 2


def arrangement_document(ladder: Ladder, path: Path, again: Mapping[int, ArrangedBar] | None = None) -> dict[str, Any]:
    """A dictionary ready for json.dumps.

    Bars come in written order; each note names its bar, onset, duration, string (1 nearest the floor), fret
    (from the capo), sounding pitch, role, what strikes it (touch, finger and way), left finger (0 open) and technique:
    a tie or an ornament with the fret it comes from. On a path with the solo its kick-off, second time and ending come
    along; `again` are the bars of a second time with a path of its own, by place.
    """
    bars = bars_on_path(ladder, path)
    grade = grade_path(bars, ladder.structure.classes)
    solo = ladder.solo in path
    if again is None:
        again = {index: bar for index, bar in ladder.second.items() if path[index] == ladder.solo}
    return {
        "format": FORMAT,
        "version": VERSION,
        "made_with": f"Nailhead {__version__}",
        "tune": {
            "title": ladder.tune.title,
            "number": ladder.tune.number,
            "metre": str(ladder.tune.metre),
            "key": _plain(str(ladder.fit.sounding_key)),
            "chords_suggested": ladder.chords_suggested,
            "core_decisions": written(decisions_of(ladder.tune).kept, ladder.tune),
        },
        "setup": setup_document(ladder.fit),
        "idiom": ladder.idiom.id,
        "rungs": [
            {"rung": number, "name": rung.name, "layer": rung.layer.value}
            for number, rung in enumerate(ladder.idiom.rungs, start=1)
        ],
        "path": list(path),
        "options": {choice.name: ladder.options.way(choice.name) for choice in ladder.idiom.choices},
        "grade": {
            "value": grade.value,
            "hardest_bars": [bars[index].number for index in grade.hardest],
            "hardest_spots": [
                {"bar": bars[spot.index].number, "join": spot.join, "grade": spot.grade, "why": spot.why}
                for spot in grade.spots
            ],
        },
        "bars": [
            _bar(ladder, ladder.tune.bars[at], bar, ladder.ground.core.notes_of(at)) for at, bar in enumerate(bars)
        ],
        "kick_off": _frame(ladder, ladder.kick_off) if solo else [],
        "second_time": [
            _bar(ladder, ladder.tune.bars[at], bar, ladder.ground.core.notes_of(at))
            for at, bar in sorted(again.items())
        ],
        "ending": _frame(ladder, ladder.ending) if solo else [],
    }


def _frame(ladder: Ladder, frame: Frame | None) -> list[dict[str, Any]]:
    """The bars around a solo; none where the tune brings its own."""
    if frame is None:
        return []
    return [_bar(ladder, frame.tune.bars[at], bar, frame.core.notes_of(at)) for at, bar in enumerate(frame.bars)]


def setup_document(fit: Fit) -> dict[str, Any]:
    """The setup and what was decided about it."""
    setup = fit.setup
    return {
        "instrument": setup.instrument.id,
        "tuning": setup.tuning.id,
        "tuning_name": setup.tuning.name,
        "capo": setup.capo,
        "fifth": pitch_name(setup.fifth) if setup.fifth else None,
        "hook_fret": setup.hook_fret,
        "open_strings_midi": [int(string.open_cents) // 100 for string in setup.strings],
        "sounding_key": _plain(str(fit.sounding_key)),
        "shape_key": _plain(str(fit.shape_key)),
        "transposed_semitones": fit.semitones,
        "remarks": list(fit.remarks),
    }


def pitch_name(pitch: Pitch) -> str:
    """Scientific name in plain letters: F#4, Bb3."""
    return _plain(str(pitch))


def _plain(text: str) -> str:
    return text.replace("♯", "#").replace("♭", "b")


def _bar(ladder: Ladder, written: Bar, bar: ArrangedBar, tune_notes: Sequence[CoreNote]) -> dict[str, Any]:
    played, early = bar.tune_onsets, dict(bar.early)
    layers = {note.onset: note.layer for note in tune_notes}
    return {
        "number": bar.number,
        "rung": bar.rung,
        "layer": bar.layer.value,
        "left_out": [
            {"onset": str(note.onset), "pitch": pitch_name(note.pitch), "layer": note.layer.value}
            for note in tune_notes
            if note.onset not in played
        ],
        "length": str(bar.length),
        "metre": str(written.metre),
        "part": written.part or None,
        "opens_repeat": written.opens_repeat,
        "closes_repeat": written.closes_repeat,
        "endings": list(written.endings),
        "chords": [
            {
                "onset": str(entry.onset),
                "sounding": _plain(str(entry.chord)),
                "shape": _plain(str(transpose_chord(entry.chord, ladder.fit.shape_fifths))),
            }
            for entry in written.chords
        ],
        "patterns": list(bar.patterns),
        "held_shapes": [
            {
                "onset": str(shape.onset),
                "duration": str(shape.duration),
                "chord": _plain(str(shape.chord)),
                "stops": [{"string": string, "fret": fret, "finger": finger} for string, fret, finger in shape.stops],
            }
            for shape in bar.shapes
        ],
        "kept_fingers": [
            {
                "string": kept.place.string,
                "fret": kept.place.fret,
                "finger": kept.finger,
                "onset": str(kept.onset),
                "until": str(kept.until),
            }
            for kept in bar.kept
        ],
        "grade": _grade(bar.grade),
        "join_grade": _grade(bar.join),
        "remarks": list(bar.remarks),
        "rests": [
            {"onset": str(stroke.onset), "duration": str(stroke.duration)} for stroke in bar.strokes if not stroke.notes
        ],
        "notes": [
            {
                **_note(bar, stroke, touch, note, ladder.fit.setup.fret_name),
                **_in_the_tune(note, early.get(stroke.onset, stroke.onset), layers),
            }
            for stroke in bar.strokes
            for touch in stroke.touches
            for note in touch.notes
        ],
    }


def _in_the_tune(note: FrettedNote, onset: Time, layers: Mapping[Time, Layer]) -> dict[str, Any]:
    """Where the tune has a melody note, and the lowest layer it is of; None for what is no note of the tune."""
    layer = layers.get(onset) if note.role is Role.MELODY and not note.held else None
    return {"layer": layer.value if layer else None, "tune_onset": str(onset) if layer else None}


def _grade(grade: Grade) -> dict[str, Any]:
    return {
        "value": grade.value,
        "reasons": [
            {"term": reason.term, "points": reason.points, "text": reason.sentence} for reason in grade.reasons
        ],
    }


def _note(
    bar: ArrangedBar, stroke: Stroke, touch: Touch, note: FrettedNote, fret_name: Callable[[int], str]
) -> dict[str, Any]:
    slur = note.slur
    return {
        "bar": bar.number,
        "onset": str(stroke.onset),
        "duration": str(stroke.duration),
        "string": note.place.string,
        "fret": note.place.fret,
        "fret_name": fret_name(note.place.fret),
        "pitch": pitch_name(note.pitch),
        "midi": note.pitch.midi,
        "role": note.role.value,
        "touch": touch_row(touch).id,
        "struck_by": touch.by.value if touch.by else None,
        "way": touch.way.value,
        "loudness": touch.loudness,
        "muted": touch.muted,
        "optional": note.optional,
        "shake": stroke.shake.trembling.value if stroke.shake else None,
        "shake_fret": stroke.shake.fret if stroke.shake else None,
        "left_finger": note.finger,
        "technique": "tie" if note.held else slur.ornament.value if slur else None,
        "bend_cents": note.bend,
        "harmonic": note.harmonic,
        "from_fret": slur.start if slur else None,
        "slow": bool(slur and slur.slow),
        "grace": bool(slur and slur.grace),
    }
