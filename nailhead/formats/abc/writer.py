"""Writes a tune as ABC 2.1; what it writes reads back as an equal tune."""

from __future__ import annotations

from collections.abc import Iterator

from nailhead.core.music.key import Key
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, Event, Tune
from nailhead.formats.abc.accidentals import Accidental, write_accidental
from nailhead.formats.abc.words import word_lines

_MODES = {
    "major": "", "minor": "m", "mixolydian": "mix", "dorian": "dor",
    "phrygian": "phr", "lydian": "lyd", "locrian": "loc",
}  # fmt: skip
_BARS_A_LINE = 4


def write_tune(tune: Tune) -> str:
    """The whole tune, header first, one music line for each line of the tune."""
    lines = header_lines(tune)
    writer = _BodyWriter(tune)
    for line in music_lines(tune.bars):
        lines += writer.line(line)
    return "\n".join(lines) + "\n"


def header_lines(tune: Tune) -> list[str]:
    """X: to K:, the fields before the music."""
    lines = [f"X:{tune.number}", f"T:{_escaped(tune.title)}"]
    lines += [f"{letter}:{_escaped(text)}" for letter, text in tune.fields]
    lines += [f"R:{_escaped(tune.rhythm)}"] * bool(tune.rhythm)
    lines += [f"M:{tune.metre if not tune.metre.free else 'none'}", f"L:{tune.unit_length}"]
    if tune.tempo:
        lines.append(f"Q:{tune.tempo.beat.numerator}/{tune.tempo.beat.denominator}={tune.tempo.bpm}")
    lines += [f"P:{tune.order}"] * bool(tune.order)
    return [*lines, f"K:{key_text(tune.key)}"]


def music_lines(bars: tuple[Bar, ...]) -> Iterator[list[Bar]]:
    """The bars line by line, as the tune breaks them."""
    line: list[Bar] = []
    for bar in bars:
        line.append(bar)
        if bar.new_line:
            yield line
            line = []
    if line:
        yield line


def key_text(key: Key) -> str:
    """A key as K: writes it, extra accidentals beside it."""
    commas = dict(key.micro)
    signs = [(write_accidental((alter, commas.get(step, 0))), step.lower()) for step, alter in key.extra]
    extra = "".join(f" {sign}{step}" for sign, step in signs)
    return ascii_name(str(key.tonic)) + _MODES[key.mode] + extra


def _escaped(text: str) -> str:
    return text.replace("%", "\\%")


def ascii_name(name: str) -> str:
    return name.replace("♯", "#").replace("♭", "b")


class _BodyWriter:
    """Keeps what the reader will know at each place: key, metre, accidentals, an open tie."""

    def __init__(self, tune: Tune) -> None:
        self.unit = tune.unit_length
        self.key: Key = tune.key
        self.metre: Metre = tune.metre
        self.accidentals: dict[str, Accidental] = {}
        self.tie: Pitch | None = None
        self.in_tuplet = 0

    def line(self, bars: list[Bar]) -> list[str]:
        music: list[str] = []
        text = ""
        for index, bar in enumerate(bars):
            if bar.part:
                music += [text + "\\"] * bool(text) + [f"P:{bar.part}"]
                text = ""
            elif text and index % _BARS_A_LINE == 0:
                music.append(text + "\\")
                text = ""
            text += self._bar(bar) + " "
        keeps_open = "" if bars[-1].new_line else "\\"
        return [*music, text.rstrip() + keeps_open, *(f"w: {_escaped(text)}" for text in word_lines(bars))]

    def _bar(self, bar: Bar) -> str:
        text = "|: " if bar.opens_repeat else ""
        text += "[" + ",".join(map(str, bar.endings)) + " " if bar.endings else ""
        if bar.metre != self.metre:
            self.metre = bar.metre
            text += f"[M:{bar.metre}]"
        if bar.key != self.key:
            self.key = bar.key
            text += f"[K:{key_text(bar.key)}]"
        self.accidentals = {}
        chords = {entry.onset: entry.chord for entry in bar.chords}
        groups = beam_onsets(bar)
        for place, event in enumerate(bar.events):
            if place and event.onset in groups and not self.in_tuplet:
                text += " "
            if event.onset in chords:
                text += f'"{ascii_name(str(chords[event.onset]))}"'
            text += self._event(event)
        return text + " " + _bar_line(bar)

    def _event(self, event: Event) -> str:
        text = "".join(f'"{_escaped(remark)}"' for remark in event.remarks) + "(" * event.slurs[0] + self._tuplet(event)
        if event.grace:
            kept, tie, self.tie = self.accidentals.copy(), self.tie, None
            text += "{" + "".join(self._pitch(pitch) for pitch in event.grace) + "}"
            self.accidentals, self.tie = kept, tie
        text += "".join(f"!{name}!" for name in event.decorations)
        text += self._pitch(event.pitch) if event.pitch else "z"
        self.tie = event.pitch if event.tied else None
        scale = event.tuplet.actual / _fraction(event.tuplet.normal) if event.tuplet else _fraction(1)
        text += length_text(event.duration * scale / self.unit) + ("-" if event.tied else "")
        return text + ")" * event.slurs[1]

    def _tuplet(self, event: Event) -> str:
        if event.tuplet is None:
            self.in_tuplet = 0
            return ""
        opens = self.in_tuplet == 0
        self.in_tuplet = (self.in_tuplet or event.tuplet.size) - 1
        tuplet = event.tuplet
        return f"({tuplet.actual}:{tuplet.normal}:{tuplet.size}" if opens else ""

    def _pitch(self, pitch: Pitch) -> str:
        tie, self.tie = self.tie, None
        wanted = (pitch.alter, pitch.commas)
        if tie and (tie.step, tie.octave) == (pitch.step, pitch.octave):
            expected = (tie.alter, tie.commas)
        else:
            expected = self.accidentals.get(pitch.step, self.key.accidentals.get(pitch.step, (0, 0)))
        sign = ""
        if expected != wanted:
            sign = write_accidental(wanted)
            self.accidentals[pitch.step] = wanted
        letter = pitch.step.lower() if pitch.octave >= 5 else pitch.step
        marks = "'" * (pitch.octave - 5) + "," * (4 - pitch.octave)
        return sign + letter + marks


def beam_onsets(bar: Bar) -> tuple[Time, ...]:
    """Where a space parts the notes, so that beams follow the beats (halves in 4/4); a pickup counts from its end."""
    metre = bar.metre
    halves = len(metre.beat_onsets) == 4 and not metre.compound
    onsets = metre.strong_onsets if halves else metre.beat_onsets
    short = metre.length - bar.length
    return tuple(onset - short for onset in onsets) if bar.number == 0 else onsets


def _fraction(value: int) -> Time:
    return Time(value)


def length_text(multiple: Time) -> str:
    """So many unit notes, as it stands after a note: "", "2", "3/2", "/4"."""
    if multiple == 1:
        return ""
    top = "" if multiple.numerator == 1 else str(multiple.numerator)
    return top + (f"/{multiple.denominator}" if multiple.denominator > 1 else "")


def _bar_line(bar: Bar) -> str:
    if bar.closes_repeat:
        return ":" * (bar.closes_repeat - 1) + "|"
    return {"single": "|", "double": "||", "final": "|]"}[bar.barline]
