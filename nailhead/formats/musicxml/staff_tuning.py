"""Which instrument a tablature staff is for: its tuning among those that are known, and its capo."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import product
from xml.etree.ElementTree import Element

from nailhead.core.errors import SetupError
from nailhead.core.figures import read_exact, read_whole
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Setup, plain_setup
from nailhead.core.fretboard.tunings import Tuning, tuning_moved
from nailhead.core.music.pitch import Pitch, transpose
from nailhead.formats.musicxml.errors import MusicXmlError

#: A staff may be written an octave off its sound.
_OCTAVES = (0, -12, 12)


def read_setup(part: Element, name: str, instruments: Iterable[Instrument]) -> Setup:
    """The setup that a part's tablature is written for; raises MusicXmlError where its tuning is not known.

    Of several instruments with those strings the one that the part is named after is taken, else the first.
    """
    details = [
        found for found in part.iterfind("measure/attributes/staff-details") if found.find("staff-tuning") is not None
    ]
    if not details:
        raise MusicXmlError(
            "The score has tablature but does not say how the strings are tuned.",
            remedy="Bring it in as a tune, for its melody, or write the tuning in its editor.",
        )
    try:
        strings = _open_pitches(details[0])
        capo = int(read_exact(details[0].findtext("capo", "") or "0", 0, 40))
    except ValueError as error:
        raise MusicXmlError("A number in the tuning of its strings makes no sense.") from error
    rows = sorted(instruments, key=lambda row: row.name.lower() not in name.lower() and row.id not in name.lower())
    for exact, octave in product((True, False), _OCTAVES):
        for instrument in rows:
            for tuning in _tunings(instrument):
                if _matches(instrument, tuning, strings, octave, exact):
                    return _setup(instrument, tuning, capo, strings, octave)
    letters = " ".join(str(pitch) for pitch in reversed(strings))
    raise MusicXmlError(
        f"No instrument here has {len(strings)} strings tuned {letters}.",
        remedy="Add that tuning to its instrument first, or bring the score in as a tune, for its melody.",
    )


def _open_pitches(details: Element) -> list[Pitch]:
    """Pitches of strings 1 to n, as they are without a capo; line 1 is the lowest (MusicXML 4.0, staff-tuning)."""
    found = {}
    for element in details.iterfind("staff-tuning"):
        alter = read_exact(element.findtext("tuning-alter", "0"), -4, 4)
        octave = read_whole(element.findtext("tuning-octave", "4"), 0, 9)
        pitch = Pitch(element.findtext("tuning-step", "C").strip(), int(alter), octave)
        found[read_whole(element.get("line", "0"), 0, 99)] = pitch
    return [found[line] for line in sorted(found, reverse=True)]


def _tunings(instrument: Instrument) -> Iterable[Tuning]:
    """As named first, then moved as a whole: nearest first."""
    low, high = instrument.whole
    yield from instrument.tunings
    for semitones in sorted(range(low, high + 1), key=lambda move: (abs(move), move)):
        if semitones:
            yield from (tuning_moved(tuning, semitones) for tuning in instrument.tunings)


def _matches(instrument: Instrument, tuning: Tuning, strings: Sequence[Pitch], octave: int, exact: bool) -> bool:
    """Do all strings agree? Unless `exact` is wanted, a short string may be at any pitch: it is retuned on its own."""
    short = () if exact else dict(instrument.short_strings)
    return len(strings) == instrument.strings and all(
        number in short or instrument.cents_of(wanted) == instrument.cents_of(transpose(pitch, octave, 0))
        for number, (pitch, wanted) in enumerate(zip(strings, tuning.pitches, strict=True), start=1)
    )


def _setup(instrument: Instrument, tuning: Tuning, capo: int, strings: Sequence[Pitch], octave: int) -> Setup:
    if not instrument.short_strings:
        return plain_setup(instrument, tuning, capo)
    fifth = transpose(strings[instrument.short_strings[0][0] - 1], octave, 0)
    try:
        return plain_setup(instrument, tuning, capo, _up(fifth, capo))
    except SetupError:
        # Some write the drone as it sounds, whatever the capo.
        try:
            return plain_setup(instrument, tuning, capo, fifth)
        except SetupError as error:
            raise MusicXmlError(error.message, remedy="Mend the tuning in its editor.") from error


def _up(pitch: Pitch, semitones: int) -> Pitch:
    """So many semitones higher, in the simplest spelling."""
    fifths = min(
        (move for move in range(-11, 12) if (7 * move - semitones) % 12 == 0),
        key=lambda move: (abs(pitch.pitch_class.fifths + move), move),
    )
    return transpose(pitch, semitones, fifths)
