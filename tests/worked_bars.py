"""Worked bars under pick and fingers, all common practice: an invented melody, and what a player makes of it.

One token a count: `string:fret`, `d u` pick down and up, `v ^` the same for a filler, `S s` strums, `-` the left hand
alone, `T I M A P` the fingers, in parentheses what may be left out, `R` a tremolo, `tr` a treble, `0>2` a grace,
`7~10` a trill, `.` rings on, `=` from here as one rung lower. Lines A and B give melody and chords.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.arrange.teacher.entering import Entered, EnteredBar, EnteredStroke
from nailhead.core.arrange.values import FrettedNote, Ornament, Role, Shake, Slur, Stroke, Trembling, Way
from nailhead.core.fretboard.setup import Place, Setup


@dataclass(frozen=True)
class Worked:
    """A ladder of two bars on an instrument: ABC of the melody, and each rung's bars as they are played."""

    instrument: str
    idiom: str
    tuning: str
    key: str
    body: str
    bars: dict[tuple[int, str], str]


def full(row: str, idiom: str) -> str:
    """The short signs of open courses written out: `S7` is the melody course at 7, the others open."""
    if idiom == "fingerstyle":
        return re.sub(
            r"[TIMAP](?=\d)", "", row
        )  # which finger it is may differ; what the left hand sounds has its sign
    if idiom not in ("noter", "saz"):
        return row
    row = re.sub(r"[Ss](?=\d)", lambda sign: {"S": "d", "s": "u"}[sign[0]] + "3:0+2:0+1:", row)
    return re.sub(r"([du-])(\d+)(?![:\d])", r"\g<1>1:\2", row)


def _worked(instrument: str, idiom: str, tuning: str, key: str, text: str) -> Worked:
    lines = dict(line.strip().split(" ", 1) for line in text.strip().splitlines())
    bars: dict[tuple[int, str], str] = {}
    for label, row in sorted(lines.items()):
        if len(label) == 2:
            row = full(row, instrument if instrument == "saz" else idiom)
            bars[int(label[0]), label[1]] = row.replace("S", "d") if instrument == "dulcimer" else row
    for (rung, name), row in sorted(bars.items()):
        if row.endswith("="):
            bars[rung, name] = _as_below(row[:-1].strip(), bars[rung - 1, name])
    body = "|".join(_abc(lines[name]) for name in "AB") + "|]"
    return Worked(instrument, idiom, tuning, key, body, bars)


def _counts(row: str) -> int:
    return sum(1 + token.count(".") for token in row.split())


def _as_below(own: str, below: str) -> str:
    """What is written, and behind it the rung below."""
    done, rest = _counts(own), below.split()
    while done > 0:
        done -= _counts(rest.pop(0))
    assert done == 0, f"{own} does not end where a token of {below} does"
    return f"{own} {' '.join(rest)}".strip()


def _abc(line: str) -> str:
    """ "G: B4. A4 G4..." as ABC in eighths."""
    found = []
    for token in line.split():
        if token.endswith(":"):
            found.append(f'"{token[:-1]}"')
            continue
        parts = re.fullmatch(r"([A-G])(#?)(?:♭²)?(\d)(\.*)", token)
        assert parts, token
        letter = parts[1] if parts[3] < "5" else parts[1].lower()
        found.append(
            ("^" if parts[2] else "") + letter + {"3": ",", "2": ",,"}.get(parts[3], "") + str(1 + len(parts[4]))
        )
    return "".join(found)


def _plucked(note: FrettedNote, name: Callable[[int], str]) -> str:
    grace = f"{name(note.slur.start)}>" if note.slur and note.slur.grace else ""
    return f"{note.place.string}:{grace}{name(note.place.fret)}"


def written(strokes: tuple[Stroke, ...], setup: Setup) -> str:
    """A bar of ours in the signs of the table; a melody note that is struck again is a melody note."""
    name, tokens, sounding = setup.fret_name, [], None
    for stroke in strokes:
        melody = [note.place for note in stroke.notes if note.role is Role.MELODY]
        sounding = melody[0] if melody else sounding
        token = ""
        for touch in stroke.touches:
            leads = any(note.place == sounding for note in touch.notes)
            several = len(touch.notes) > 1 and not leads
            sign = {Way.DOWN: "dvS", Way.UP: "u^s"}.get(touch.way, "---")[0 if leads else 2 if several else 1]
            if stroke.shake and stroke.shake.fret is None:
                sign = {Trembling.TREMOLO: "R", Trembling.TREBLE: "tr"}.get(stroke.shake.trembling, sign)
            places = []
            for note in sorted(touch.notes, key=lambda one: -one.place.string):
                grace = f"{name(note.slur.start)}>" if note.slur and note.slur.grace else ""
                trilled = stroke.shake and stroke.shake.fret is not None and note.role is Role.MELODY
                trill = f"~{name(stroke.shake.fret)}" if trilled else ""
                places.append(f"{note.place.string}:{grace}{name(note.place.fret)}{trill}")
            token += sign + "+".join(places)
        if any(touch.way in (Way.PLUCK, Way.DAMP) for touch in stroke.touches):
            places = sorted(stroke.notes, key=lambda note: -note.place.string)
            token = "+".join(_plucked(note, name) for note in places)
            token = f"({token})" if all(note.optional for note in places) else token
        if any(touch.way is Way.SLAP for touch in stroke.touches):
            token = "K"
        tokens.append((token or "z") + "." * (int(stroke.duration * 8) - 1))
    return " ".join(tokens)


#: Signs of a token -> how its notes are sounded.
_WAYS = {"d": Way.DOWN, "v": Way.DOWN, "S": Way.DOWN, "u": Way.UP, "^": Way.UP, "s": Way.UP, "-": Way.LEFT}
_NOTE = re.compile(r"(\d):(?:(\d+)>)?(\d+)(?:~\d+)?")


def entered(row: str, setup: Setup) -> EnteredBar:
    """A worked bar as one that another hand has fretted: what `written` writes, read back; eighths are the counts."""
    frets = {setup.fret_name(fret): fret for fret in range(setup.instrument.frets + 1)}
    strokes: list[EnteredStroke] = []
    at = Fraction(0)
    for token in row.split():
        long = Fraction(1 + token.count("."), 8)
        sign = re.match(r"tr|[dvSu^sR-]", token)
        assert sign, token
        shaken = {"R": Trembling.TREMOLO, "tr": Trembling.TREBLE}.get(sign[0])
        way = _WAYS.get(sign[0], Way.DOWN)
        notes, open_fret = [], strokes[-1].notes[0].place.fret if strokes and strokes[-1].notes else 0
        for string, grace, fret in _NOTE.findall(token):
            place = Place(int(string), frets[fret])
            starts = frets[grace] if grace else open_fret
            rises = place.fret > starts
            kind = (Ornament.HAMMER if rises else Ornament.PULL) if way is Way.LEFT or grace else None
            slur = Slur(kind, starts, grace=bool(grace)) if kind else None
            notes.append(Entered(place, slur=slur))
        shake = Shake(shaken) if shaken else None
        strokes.append(EnteredStroke(at, long, tuple(notes), way, swept=len(notes) > 1, shake=shake))
        at += long
    return tuple(strokes)


MANDOLIN = _worked(
    "mandolin",
    "plectrum",
    "GDAE",
    "G",
    """
    A G: B4. A4 B4 G4...
    B C: E5. D5 C5 G: B4...
    2A d2:2. d2:0 u2:2 d3:5. d3:5 u3:5
    2B d1:0. d2:5 u2:3 d2:2. d2:2 u2:2
    3A d3:0+2:2. d2:0 u2:2 d4:0+3:5. d4:0+3:5 u3:5
    3B d2:3+1:0. d2:5 u2:3 d3:0+2:2. d3:0+2:2 u2:2
    4A d3:0+2:2. d2:0 -2:2 =
    4B d2:3+1:0. d2:5 -2:3 =
    5A d3:0+2:2 ^3:0 d2:0 -2:2 d3:5 ^2:2 v1:3 ^2:2
    5B d2:3+1:0 ^2:3 d2:5 -2:3 R2:2...
    6A d3:5+2:2 u3:5+2:2 =
    6B tr1:0. d2:5 -2:3 d3:5+2:2 u3:5+2:2 d3:5+2:2 u2:2
    7A d3:5+2:2 ^1:3 v3:5 ^2:2 =
    7B tr1:0. d2:5 -2:3 d3:5+2:2 u3:5+2:2 d3:5 u2:0
    """,
)
GUITAR = _worked(
    "guitar",
    "plectrum",
    "EADGBE",
    "C",
    """
    A C: E3. D3 E3 G3...
    B F: A3. G3 F3 C: E3...
    2A d4:2. d4:0 u4:2 d3:0. S2:1+1:0.
    2B d3:2. d3:0 u4:3 d4:2. S2:1+1:0.
    3A d4:2. d4:0 u4:2 d3:0. S2:1+1:0 s2:1+1:0
    3B d3:2. d3:0 u4:3 d4:2. S3:0+2:1+1:0 s2:1+1:0
    4A d4:2. d4:0 -4:2 =
    4B d3:0>2. =
    5A d4:2 s2:1+1:0 d4:0 -4:2 d3:0 s2:1+1:0 =
    5B d3:0>2 s2:1+1:1 d3:0 u4:3 d4:2 s2:1+1:0 =
    6A d4:2 ^3:0 d4:0 -4:2 d3:0 ^2:1 v1:0 ^2:1
    6B d3:0>2 ^2:1 d3:0 u4:3 d4:2 ^3:0 v2:1 ^3:0
    7A d4:2 ^3:0 d4:0 -4:2 d3:0 ^2:1 d4:0 u4:2
    7B S4:3+3:2 ^2:1 d3:0 u4:3 d4:2 ^3:0 d5:3 u4:0
    """,
)
NOTER = _worked(
    "dulcimer",
    "noter",
    "DAA",
    "D",
    """
    A D: F#4. E4 F#4 A4...
    B G: B4. A4 F#4 D: D4...
    2A S5. d4 u5 S7. S7 s7
    2B S8. d7 u5 S3. S3 s3
    3A S5. S4 s5 =
    3B S8. S7 s5 =
    4A S5. S4 -5 =
    4B S8. S7 -5 =
    5A S5 s5 S4 -5 S7 s7 S7 s7
    5B S8 s8 S7 -5 S3 s3 S3 s3
    6A S5 s5 S4 -5 S6>7 s7 S7 s7
    6B S8 s8 S7 -5 S2>3 s3 S3 s3
    7A S5 s5 S4 s4 =
    7B S8 s8 S7 -5 S3 s3 S3 s4
    """,
)
FINGERED = _worked(
    "dulcimer",
    "chord-melody",
    "DAD",
    "D",
    """
    A D: F#4. E4 F#4 A4...
    B G: B4. A4 F#4 D: D4...
    2A S3:0+2:0+1:2. d1:1 u1:2 S3:0+2:0+1:4...
    2B S3:0+2:0+1:5. d1:4 u1:2 S3:0+2:0+1:0...
    3A S3:0+2:0+1:2. d1:1 u1:2 S3:2+2:3+1:4. S3:2+2:3+1:4 s1:4
    3B S3:3+2:3+1:5. d1:4 u1:2 S3:2+2:0+1:0. S3:2+2:0+1:0 s1:0
    4A S3:0+2:0+1:2. d1:1 -1:2 =
    4B S3:3+2:3+1:5. d1:4 -1:2 =
    5A S3:0+2:0+1:2 ^2:0 d1:1 -1:2 S3:2+2:3+1:4 ^2:3 v3:2 ^2:3
    5B S3:3+2:3+1:5 ^2:3 d1:4 -1:2 S3:2+2:0+1:0 ^2:0 v3:2 ^2:0
    6A S3:2+2:0+1:2 ^2:0 S3:1+2:0+1:1 s3:2+2:0+1:2 =
    6B S3:3+2:3+1:5 ^2:3 S3:4+2:0+1:4 s3:2+2:0+1:2 =
    7A S3:2+2:0+1:2 ^2:0 S3:1+2:0+1:1 ^2:0 =
    7B S3:3+2:3+1:5 ^2:3 S3:4+2:0+1:4 s3:2+2:0+1:2 S3:2+2:0+1:0 ^2:0 d1:0 u1:1
    """,
)
SAZ = _worked(
    "saz",
    "plectrum",
    "A-D-G",
    "Am _24/53b",
    """
    A Am: C4. B♭²3 C4 D4...
    B Am: D4. C4 B♭²3 A3...
    2A d4. d2 u4 d7. v3:0 ^3:0
    2B d7. d4 u2 d0. v3:0 ^3:0
    3A S4. d2 u4 S7. v3:0 ^3:0
    3B S7. d4 u2 S0. v3:0 ^3:0
    4A S4. d2 -4 =
    4B S7. d4 -2 =
    5A S4 ^3:0 d2 -4 S7 ^3:0 S7 s7
    5B S7 ^3:0 d4 -2 S0 ^3:0 S0 s0
    6A S4 s4 d2 -4 S7~10 s7 S7 s7
    6B S7 s7 d4 -2 S0 s0 S0 s0
    7A S4 s4 d2 ^3:0 S10>7 s7 S7 s7
    7B S7 s7 d4 -2 S0 s0 d0 u2
    """,
)
UKULELE = _worked(
    "ukulele",
    "fingerstyle",
    "gCEA",
    "C",
    """
    A C: E4. F4 G4 C5...
    B F: A4. G4 F4 C: E4...
    2A P3:0+2:0. I2:1 M2:3 P3:0+1:3...
    2B P3:0+1:0. M2:3 I2:1 P3:0+2:0...
    3A P3:0+2:0. I2:1 M2:3 P4:0+3:0+2:0+1:3...
    3B P4:2+3:0+2:1+1:0. M2:3 I2:1 P3:0+2:0...
    4A P3:0+2:0. M2:1 -2:3 =
    4B P4:2+3:0+2:1+1:0. M2:3 -2:1 =
    5A P3:0+2:0 (I3:0) M2:1 -2:3 P4:0+3:0+2:0+1:3 (I3:0) (M2:0) (T4:0)
    5B P4:2+3:0+2:1+1:0 (I3:0) M2:3 -2:1 P3:0+2:0 (I3:0) (T4:0) (I3:0)
    6A P3:0+2:0 (I3:0) M2:1 T4:0 =
    6B P3:0+2:1+1:0 (I3:0) T4:0 I2:1 =
    7A P3:0+2:0 (I3:0) (M2:0) T4:0 =
    7B P3:0+2:1+1:0 (I3:0) T4:0 I2:1 P3:0+2:0 (I3:0) T3:0 I3:2
    """,
)
GUITAR_FINGERS = _worked(
    "guitar",
    "fingerstyle",
    "EADGBE",
    "C",
    """
    A C: E4. D4 C4 G4...
    B G: D4. B3 C4 C: E4...
    2A P5:3+1:0. M2:3 I2:1 P5:3+1:3...
    2B P6:3+2:3. M2:0 I2:1 P5:3+1:0...
    3A P5:3+1:0. P4:2+2:3 I2:1 P5:3+1:3. T4:2.
    3B P6:3+2:3. P4:0+2:0 I2:1 P5:3+1:0. T4:2.
    4A P5:3+1:0. P4:2+2:3 -2:1 =
    4B P6:3+2:3. P4:0+2:0 -2:1 =
    5A P5:3+1:0 I3:0 P4:2+2:3 -2:1 P5:3+1:3 I3:0 T4:2 M2:1
    5B P6:3+2:3 I3:0 P4:0+2:0 -2:1 P5:3+1:0 I3:0 T4:2 M2:1
    6A P5:3+1:0 I3:0 P4:2+2:3 -2:1 P6:3+1:3 I3:0 T4:2 M2:1
    6B P6:3+2:3 I3:0 P4:0+2:0 -2:1 P5:3+1:0 I3:0 K M2:1
    7A P5:3+1:0 I3:0 P4:2+2:3 I3:0 P6:3+1:0>3 =
    7B P6:3+2:3 I3:0 P4:0+2:0 -2:1 P5:3+1:0 I3:0 P4:2+2:1 I2:3
    """,
)
ALL = (MANDOLIN, GUITAR, NOTER, FINGERED, SAZ, UKULELE, GUITAR_FINGERS)
#: The figures in seven, chained 2+2+3: rung -> its bar over C, B♭² and a long A.
IN_SEVEN = {2: "d4. d2. d0 ^3:0 v3:0", 5: "S4 ^3:0 S2 ^3:0 S0 s0 s0"}
