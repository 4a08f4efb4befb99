"""The tunings: one row each, written as players write them, last string first (handbook §2).

A small letter is the high drone string. Homes are the shape keys that lie under the hand with the tonic or fifth on
open strings (common practice): "G" is at home in every mode of its column, "D:mixolydian" in that mode alone, "*" says
that every key is played without a capo, those beside it most readily. The minor column covers the modes with a minor
third, which an open major third in the tuning would contradict. `usual` tunings are those an instrument is kept in; the
others are offered.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from nailhead.core.music.key import Key
from nailhead.core.music.pitch import Pitch, PitchClass, parse_pitch, parse_pitch_class, transpose

#: A shape key that suits a tuning, and the mode it is bound to ("" for every mode of its column).
Home = tuple[PitchClass, str]
ANY_KEY = "*"


@dataclass(frozen=True, slots=True)
class Tuning:
    """Open pitches of strings 1 to n before any capo, as they sound. `id` is the tuning as players write it.

    `seconds` are major keys that players take without a capo although the tuning is not made for them.
    `capo_homes` are (fret, homes) where frets are uneven: a capo leaves another mode there than without one.
    `moved` is how far the whole instrument stands from the pitches of that name, in semitones: shapes keep their names.
    """

    id: str
    name: str
    instrument: str
    pitches: tuple[Pitch, ...]
    homes_major: tuple[Home, ...] = ()
    homes_minor: tuple[Home, ...] = ()
    any_key: bool = False
    usual: bool = False
    moved: int = 0
    seconds: tuple[Home, ...] = ()
    capo_homes: tuple[tuple[int, tuple[Home, ...]], ...] | None = None

    @property
    def letters(self) -> str:
        """Its strings as they sound, last string first."""
        return " ".join(str(pitch.pitch_class) for pitch in reversed(self.pitches))

    @property
    def label(self) -> str:
        """ "open G (gDGBD)", and where the whole instrument is moved, what it then sounds."""
        if self.moved:
            return f"{self.name} ({self.letters})"
        return self.name if self.name.replace("♯", "#") == self.id else f"{self.name} ({self.id})"

    def homes(self, key: Key, capo: int = 0) -> tuple[PitchClass, ...]:
        """Shape tonics that suit this tuning for a key of that mode."""
        if self.any_key:
            return tuple(PitchClass.from_fifths(fifths) for fifths in range(-5, 7))
        return self._named(key, capo)

    def _named(self, key: Key, capo: int) -> tuple[PitchClass, ...]:
        """Those that the row names."""
        homes = self.homes_minor if key.minor_third else self.homes_major
        if capo and self.capo_homes is not None:
            homes = dict(self.capo_homes).get(capo, ())
        return tuple(tonic for tonic, mode in homes if mode in ("", key.mode))

    def at_hand(self, key: Key, capo: int = 0) -> bool:
        """Is a shape key one that players take most readily here? With no such keys, all are."""
        if self.any_key and not self.homes_major:
            return True
        return any(tonic.semitone == key.tonic.semitone for tonic in self._named(key, capo))

    def second_home(self, key: Key) -> bool:
        """Does a shape key lie well enough here, as it stands, without being what the tuning is made for?"""
        near = () if key.minor_third or self.moved else self.seconds
        return any(tonic.semitone == key.tonic.semitone and mode in ("", key.mode) for tonic, mode in near)


def _homes(text: str) -> tuple[Home, ...]:
    pairs = (home.partition(":") for home in text.split() if home != ANY_KEY)
    return tuple((parse_pitch_class(tonic), mode) for tonic, _, mode in pairs)


def _row(
    instrument: str,
    id: str,
    name: str,
    pitches: str,
    major: str,
    minor: str = "",
    *,
    usual: bool = False,
    seconds: str = "",
    capos: str | None = None,
) -> Tuning:
    return Tuning(
        id,
        name,
        instrument,
        tuple(parse_pitch(pitch) for pitch in pitches.split()),
        _homes(major),
        _homes(minor),
        ANY_KEY in major.split(),
        usual,
        seconds=_homes(seconds),
        capo_homes=None if capos is None else _by_capo(capos),
    )


def _by_capo(text: str) -> tuple[tuple[int, tuple[Home, ...]], ...]:
    """ "1 D:minor, 3 D:major": homes under a capo."""
    rows = (row.split(maxsplit=1) for row in text.split(",") if row)
    return tuple((int(fret), _homes(homes)) for fret, homes in rows)


def _one_five_one(tonic: str) -> str:
    """Under a capo where the melody string has the tonic open: its modes by what frets are left."""
    return f"1 {tonic}:minor {tonic}:dorian, 3 {tonic}:major, 4 {tonic}:dorian {tonic}:mixolydian"


def _five_below(tonic: str) -> str:
    """The same where it has the fifth open."""
    return f"1 {tonic}:dorian {tonic}:mixolydian, 4 {tonic}:major {tonic}:mixolydian"


#: instrument, id, name, strings 1 to n, homes of major-third modes, homes of minor-third modes
TUNINGS: dict[str, Tuning] = {
    row.id: row
    for row in (
        _row("banjo", "gDGBD", "open G", "D4 B3 G3 D3 G4", "G", usual=True, seconds="C D"),
        _row("banjo", "gDGCD", "modal", "D4 C4 G3 D3 G4", "G:mixolydian", "G", usual=True),
        _row("banjo", "gCGCD", "double C", "D4 C4 G3 C3 G4", "C", "C G", usual=True),
        _row("banjo", "gCGBD", "standard C", "D4 B3 G3 C3 G4", "C"),
        _row("banjo", "aDF#AD", "open D", "D4 A3 F#3 D3 A4", "D"),
        _row("banjo", "f#DF#AD", "open D with F♯", "D4 A3 F#3 D3 F#4", "D"),
        _row("banjo", "gDGBbD", "G minor", "D4 Bb3 G3 D3 G4", "", "G"),
        _row("mandolin", "GDAE", "standard", "E5 A4 D4 G3", "* G D A C E", "A E D B G", usual=True, seconds="F Bb"),
        _row("mandolin", "AEAE", "cross A", "E5 A4 E4 A3", "A", "A"),
        _row("mandolin", "GDAD", "cross D", "D5 A4 D4 G3", "D G", "D"),
        _row("mandolin", "GDGD", "cross G", "D5 G4 D4 G3", "G", "G"),
        _row("dulcimer", "DAD", "DAD", "D4 A3 D3", "D:mixolydian D:major", usual=True, capos=_one_five_one("D")),
        _row("dulcimer", "DAA", "DAA", "A3 A3 D3", "D:major", usual=True, capos=_five_below("D")),
        _row("dulcimer", "DAC", "DAC", "C4 A3 D3", "", "D:minor", usual=True, capos=""),
        _row("dulcimer", "DAG", "DAG", "G3 A3 D3", "", "D:dorian", usual=True, capos="1 D:minor"),
        _row("dulcimer", "CGC", "CGC", "C4 G3 C3", "C:mixolydian C:major", usual=True, capos=_one_five_one("C")),
        _row("dulcimer", "CGG", "CGG", "G3 G3 C3", "C:major", capos=_five_below("C")),
        _row("dulcimer", "DGD", "DGD", "D4 G3 D3", "G:major", capos=_five_below("G")),
        _row("dulcimer", "GDG", "GDG", "G4 D4 G3", "G:mixolydian G:major", capos=_one_five_one("G")),
        _row("dulcimer", "GDD", "GDD", "D4 D4 G3", "G:major", capos=_five_below("G")),
        _row("ukulele", "gCEA", "high G", "A4 E4 C4 G4", "* C F G D A", "A D E G", usual=True, seconds="Bb"),
        _row("ukulele", "GCEA", "low G", "A4 E4 C4 G3", "* C F G D A", "A D E G", usual=True, seconds="Bb"),
        _row("ukulele", "aDF#B", "D tuning", "B4 F#4 D4 A4", "* D G A E B", "B E F# A", seconds="C"),
        _row("ukulele-baritone", "DGBE", "standard", "E4 B3 G3 D3", "* G C D A E", "E A B D", usual=True, seconds="F"),
        _row("guitar", "EADGBE", "standard", "E4 B3 G3 D3 A2 E2", "C G D A E", "A E D B", usual=True),
        _row("guitar", "DADGBE", "drop D", "E4 B3 G3 D3 A2 D2", "D G", "D"),
        _row("guitar", "DADGAD", "DADGAD", "D4 A3 G3 D3 A2 D2", "D G", "D G"),
        _row("guitar", "DGDGBD", "open G", "D4 B3 G3 D3 G2 D2", "G"),
        _row("guitar", "DADF#AD", "open D", "D4 A3 F#3 D3 A2 D2", "D"),
        _row("saz", "A-D-G", "A-D-G", "A3 D3 G3", "*", usual=True),
        _row("saz", "A-D-F#", "A-D-F♯", "A3 D3 F#3", "*"),
        _row("saz-short", "D-G-A", "D-G-A", "D4 G3 A3", "*", usual=True),
        _row("saz-short", "A-D-E", "A-D-E", "A3 D3 E3", "*"),
    )
}


def tunings_of(instrument: str) -> tuple[Tuning, ...]:
    """All tunings of an instrument, in the order they are tried."""
    return tuple(row for row in TUNINGS.values() if row.instrument == instrument)


def base_id(tuning: Tuning) -> str:
    """The id of the tuning that a moved one was moved from."""
    return tuning.id.rstrip("0123456789").rstrip("↑↓") if tuning.moved else tuning.id


#: How far a whole instrument is moved -> in words.
_DISTANCES = {1: "a semitone", 2: "a tone", 3: "a minor third", 4: "a major third", 5: "a fourth", 7: "a fifth"}


def distance_words(semitones: int) -> str:
    """ "a tone", "8 semitones"."""
    return _DISTANCES.get(abs(semitones), f"{abs(semitones)} semitones")


def tuning_moved(tuning: Tuning, semitones: int, fifths: int | None = None) -> Tuning:
    """All strings so many semitones higher (negative: lower); double C a tone down is F B♭ F B♭ C (handbook §2).

    `fifths` fixes the spelling; without it the simplest is taken.
    """
    if semitones == 0:
        return tuning
    names = [pitch.pitch_class.fifths for pitch in tuning.pitches]
    if fifths is None:
        fitting = (move for move in range(-11, 12) if (7 * move - semitones) % 12 == 0)
        fifths = min(fitting, key=lambda move: (sum(abs(name + move) for name in names), move))
    arrow, way = ("↑", "up") if semitones > 0 else ("↓", "down")
    return replace(
        tuning,
        id=f"{tuning.id}{arrow}{abs(semitones)}",
        name=f"{tuning.name} {way} {distance_words(semitones)}",
        pitches=tuple(transpose(pitch, semitones, fifths) for pitch in tuning.pitches),
        moved=tuning.moved + semitones,
    )
