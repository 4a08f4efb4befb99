"""The grammar of a way of playing: what the rows in this folder are made of. Algorithms ask for no name."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property

from nailhead.core.arrange.rows.costs import COSTS
from nailhead.core.arrange.rows.left_hand import EVERY_ORNAMENT, LeftHand
from nailhead.core.arrange.rows.patterns import Alphabet, Pattern, own_row, read_row
from nailhead.core.arrange.rows.touches import TouchRow, touch_row
from nailhead.core.arrange.values import Finger, Touch, Way
from nailhead.core.music.layers import Layer

#: A rung that no ladder has.
NEVER = 99


class Catch(StrEnum):
    """How a note between the beats is sounded, where the finger that strikes falls on beats by nature."""

    SLUR = "the left hand sounds it from the note before"
    DRONE = "it is the drone string's own pitch, and the thumb strikes it there"
    DROP = "a finger leaves its home string for it"
    PLUCK = "the left hand plucks it on an open string that was not struck"


class Adds(StrEnum):
    """What a rung adds to the one below; every higher rung has it too."""

    SHAPES = "holds the chord's shape"
    SLURS = "the left hand sounds notes off the beat, graces lead into long ones"
    RESTS = "something sounds in the melody's rests"
    FLOW = "the hand keeps moving, over rests too"
    DROPS = "a finger leaves its home string"
    MOVES = "melody notes may lie elsewhere"
    DOUBLES = "strong melody notes are doubled"
    PUSHES = "a melody note may come a count before its beat"
    SOLO = "fills, fewer melody notes, a varied second time, kick-off and ending"


@dataclass(frozen=True, slots=True)
class Rung:
    """One rung of a way of playing.

    `empty` is what a pulse group costs in which nothing is struck, or only the first of three counts; `hole` each
    count on which nothing is. `brushes` are the strings that one brush takes, best first. `layer` is how much of the
    melody the rung plays; `catches` bring notes back that the layer leaves out. Down to `thins` notes may go so that
    a roll fits. With `even` a note that the layer has between two beats is struck on its beat, where it is not caught.
    `version` names a rung that is by itself a way to play the whole tune.
    """

    name: str
    adds: tuple[Adds, ...] = ()
    layer: Layer = Layer.FULL
    catches: tuple[Catch, ...] = ()
    thins: Layer | None = None
    empty: int = 0
    hole: int = 0
    brushes: tuple[tuple[int, ...], ...] = ()
    even: bool = False
    version: str = ""

    @property
    def plays(self) -> str:
        """How much of the melody, in a teacher's words: "the beats", "the beats and slurs"."""
        base = (self.thins or self.layer).words
        if self.thins and self.thins is not self.layer:
            return f"{base} and more"
        more = {Catch.SLUR: "slurs", Catch.DRONE: "the fifth string"}
        brought = [more[catch] for catch in self.catches if catch in more]
        if self.layer is Layer.FULL or not brought:
            return base
        return f"{base} and {brought[0] if len(brought) == 1 else 'more'}"


@dataclass(frozen=True, slots=True)
class Follows:
    """What may follow what: the price of a touch right behind another, a count or less later.

    `again` is what the same finger costs twice running; a finger that is not listed comes as often as it likes.
    `string_again` is for a string that is struck twice running when the second is no melody note. `tireless` fingers
    make a bar no harder when they come again. Fingers in `order` stand from the bass to the treble: of two that strike
    a count apart the first is never on the treble side of the other; strings that lie `apart` do not count. Behind
    a `chord` of so many strings, and before it, any finger may come again. A finger in `running` plays a line on those
    strings by itself, at a price.
    """

    again: Mapping[Finger, int]
    string_again: int = COSTS["string twice"]
    tireless: frozenset[Finger] = frozenset({Finger.THUMB})
    order: tuple[Finger, ...] = ()
    apart: frozenset[int] = frozenset({5})
    chord: int = NEVER
    running: Mapping[Finger, frozenset[int]] = field(default_factory=dict)

    def __call__(self, before: Touch, after: Touch) -> int:
        """The price of two touches, by their fingers alone."""
        if before.by is None or before.by is not after.by or after.way is Way.DRAG:
            return 0
        return self.again.get(before.by, 0)


@dataclass(frozen=True, slots=True)
class SingleNotes:
    """How melody notes are struck by themselves on the bare rung.

    `turns` are the fingers that take turns on a string, `others` those on every string that is not listed; with
    `clocked` the hand goes down on the first of each group of counts and up behind it, in turn, even after a rest,
    or the other way round where it goes `inward` on the beat.
    `triplet` are the ways of a triplet that leads into the first bar. In groups of three the hand begins each down, or
    goes on in turn `through` the bar; behind a quarter it goes down, or up with `quarter_up`.
    """

    turns: Mapping[int, tuple[Finger, ...]]
    others: tuple[Finger, ...]
    clocked: bool = False
    inward: bool = False
    triplet: tuple[Way, Way, Way] | None = None
    through: bool = False
    quarter_up: bool = False


class Doubling(StrEnum):
    """Who doubles a melody note."""

    SAME = "the same finger in one movement"
    FREE = "another finger that is free"


@dataclass(frozen=True, slots=True)
class Row:
    """A pattern as it is written: see `rows.patterns`. It is played where it lasts `least_s` seconds or more."""

    name: str
    text: str
    from_rung: int
    cost: int = 0
    moving_from: int = 5
    family: str = ""
    to_rung: int = NEVER
    least_s: float = 0.0

    def read(self, alphabet: Alphabet) -> Pattern:
        """Raises PathError with the sign at fault."""
        made = read_row(alphabet, self.name, self.text, self.from_rung, self.cost, self.moving_from, self.family)
        return replace(made, to_rung=self.to_rung)


#: string -> what it costs under a finger.
Reach = Mapping[int, int]


@dataclass(frozen=True, eq=False)
class RightHand:
    """How a right hand works.

    `rows` are its patterns, spelt in its `alphabet`; `own` a teacher's, as (name, text). `touches` are the movements it
    makes and what each is called; `ways` how a finger strikes by itself. `lines` prices the strings of each finger
    for melody and fills, `chords` for what accompanies: a finger comes to the others' strings in a single line where
    one would else strike twice running, but not for a filler.
    `plain` are the fingers that strike a melody note by itself, `home` the strings that a finger leaves at a price,
    `catches` who leaves it for an off-beat melody note; from the rung `drone_sings` on a weak melody note that is the
    drone string's own pitch may be played there (worth `drone_worth`); `on_beat` fingers fall on beats by nature.
    `doubling` is None, or which finger doubles a melody note: the same one in one movement, or another that is free.
    `on_top` keeps every struck note below the melody's; `covers` is what a filler on the string of a sounding melody
    note costs; `restrikes` lets a melody note be struck again that is no chord tone, `rather_slurs` is what it costs to
    strike an off-beat note where the left hand might sound it, in every second group alone from the rung of flow on
    with `slurs_thin`; `slur_again` is what a slur right behind a slur costs, where a plucked note dies soon. With
    `yields_place` a filler keeps off the place that the melody comes to one count later, else off its whole string.
    From the rung `takes_along` on a melody note struck by itself on a count takes along what rings beside it.
    `spreads` moves runs over the strings from the rung of moves on, so that every note rings into the next. `given` are
    the only patterns, where somebody asks how a bar goes under those.
    """

    alphabet: Alphabet
    rows: tuple[Row, ...]
    touches: tuple[TouchRow, ...]
    single: SingleNotes
    lines: Mapping[Finger, Reach]
    chords: Mapping[Finger, Reach]
    plain: tuple[Finger, ...]
    follows: Follows
    ways: Mapping[Finger, Way] = field(default_factory=dict)
    home: Mapping[Finger, frozenset[int]] = field(default_factory=dict)
    catches: Finger | None = None
    drone_sings: int = NEVER
    drone_worth: int = 3
    on_beat: frozenset[Finger] = frozenset()
    doubling: Doubling | None = None
    change_at_bar_line: int = 0
    on_top: bool = False
    covers: int = COSTS["melody string"]
    restrikes: bool = False
    rather_slurs: int = 0
    slurs_thin: bool = False
    slur_again: int = 0
    yields_place: bool = False
    takes_along: int = NEVER
    spreads: bool = False
    own: tuple[tuple[str, str], ...] = ()
    given: tuple[Pattern, ...] | None = None

    def at_speed(self, count_s: float) -> RightHand:
        """The same hand with the rows that it has time for, where a count lasts so many seconds."""
        rows = tuple(
            row for row in self.rows if not row.least_s or row.read(self.alphabet).counts * count_s >= row.least_s
        )
        return self if len(rows) == len(self.rows) else replace(self, rows=rows)

    def with_patterns(self, given: tuple[Pattern, ...]) -> RightHand:
        """The same hand with these patterns alone."""
        return replace(self, given=given)

    @cached_property
    def patterns(self) -> tuple[Pattern, ...]:
        """The teacher's own patterns, then those of the rows; raises PathError for a sign that is not played here."""
        if self.given is not None:
            return self.given
        own = tuple(own_row(self.alphabet, name, text) for name, text in self.own)
        return own + tuple(row.read(self.alphabet) for row in self.rows)

    def way_of(self, finger: Finger) -> Way:
        """How a finger strikes by itself."""
        return self.ways.get(finger, Way.PLUCK)

    @property
    def sweeps(self) -> bool:
        """Does one movement take neighbouring strings along?"""
        return self.doubling is Doubling.SAME

    def spares(self, moved: bool) -> int:
        """So many strings fewer are no less to play: a single note for a sweep of two, and a chord without a tone or
        two where the melody has `moved` to one of its strings.
        """
        return 2 if moved and self.chords_plucked else int(self.sweeps)

    @property
    def chords_plucked(self) -> bool:
        """Are chords plucked, a finger for each string? The left hand then adorns a note of them too."""
        return self.follows.chord < NEVER

    @property
    def fingered(self) -> bool:
        """Does each finger strike by itself?"""
        return len(self.plain) > 1

    def touch(self, by: Finger | None, way: Way | None, several: bool = False) -> TouchRow | None:
        """The first movement of this hand by a finger, a way, or both; None where it makes none."""
        return next(
            (
                row
                for row in self.touches
                if row.by == (by or row.by) and row.way == (way or row.way) and row.several == several
            ),
            None,
        )

    def row_of(self, touch: Touch) -> TouchRow:
        """What a touch is called under this hand; one that it does not make is called what it is called anywhere."""
        own = self.touch(touch.by, touch.way, len(touch.notes) > 1) if touch.by else None
        return own or touch_row(touch)

    def leaves_home(self, finger: Finger | None, string: int) -> bool:
        """Is the string away from where the finger is at home?"""
        return finger is not None and finger in self.home and string not in self.home[finger]


@dataclass(frozen=True, eq=False)
class Choice:
    """Something in which good players differ: its ways, the usual one first, each a change of the way of playing."""

    name: str
    label: str
    ways: Mapping[str, Callable[[Idiom], Idiom]]

    @property
    def usual(self) -> str:
        return next(iter(self.ways))


@dataclass(frozen=True)
class Idiom:
    """A way of playing.

    `instruments` are the kinds it is for; `strings` those that the melody keeps to, () all, `prefers` those that it
    leaves only for a note they do not have; `drones` ring open throughout, whatever the chord. The rungs are numbered
    from 1; an idiom with one has the bare melody alone.
    `tunings` are those that are taken every day here, where they are not those of the instrument. With `runs` a solo
    steps through the bass to the root of a new chord, by semitones where it is `chromatic`.
    `kick_off` and `ending` name rows of `rows.frames`, "" the usual ones.
    """

    id: str
    name: str
    instruments: tuple[str, ...]
    right: RightHand
    left: LeftHand = EVERY_ORNAMENT
    rungs: tuple[Rung, ...] = (Rung("Bare"),)
    strings: tuple[int, ...] = ()
    drones: tuple[int, ...] = ()
    prefers: tuple[int, ...] = ()
    choices: tuple[Choice, ...] = ()
    tunings: tuple[str, ...] | None = None
    runs: bool = False
    chromatic: bool = False
    kick_off: str = ""
    ending: str = ""

    def has(self, adds: Adds, rung: int) -> bool:
        """Does a rung do what it or one below it adds?"""
        return rung >= self.first(adds)

    def first(self, adds: Adds) -> int:
        """The lowest rung that adds something; NEVER where none does."""
        return self._first.get(adds, NEVER)

    @cached_property
    def _first(self) -> dict[Adds, int]:
        return {adds: number for number, rung in reversed(list(enumerate(self.rungs, 1))) for adds in rung.adds}

    @property
    def aloft(self) -> tuple[int, ...]:
        """The strings that the melody had better lie on, because the thumb has the others; () for any."""
        return self.prefers if self.right.fingered else ()

    @property
    def solo(self) -> int | None:
        """The rung that is a solo."""
        found = self.first(Adds.SOLO)
        return found if found < NEVER else None

    @property
    def layers(self) -> tuple[Layer, ...]:
        """Every layer that a rung plays or may thin to, the fewest notes first."""
        played = {layer for rung in self.rungs for layer in (rung.layer, rung.thins) if layer}
        return tuple(layer for layer in Layer if layer in played)

    def rung(self, number: int) -> Rung:
        return self.rungs[number - 1]

    def plays(self, number: int) -> str:
        """What a rung is called and how much of the melody it plays: "Bare, the beats"."""
        rung = self.rung(number)
        return f"{rung.name}, {rung.plays}"

    @property
    def clocked(self) -> bool:
        """Does the hand follow the clock of the metre?"""
        return self.right.single.clocked

    def played(self, taken: Mapping[str, str], own: tuple[tuple[str, str], ...] = ()) -> Idiom:
        """The way of playing as some choices have it, and with a teacher's own patterns; raises PathError for those."""
        played = self
        for choice in self.choices:
            played = choice.ways[taken.get(choice.name, choice.usual)](played)
        right = replace(played.right, own=own)
        if own:
            assert right.patterns  # read now, so that a sign that is not played here is refused at once
        return replace(played, right=right)

    def beginning_with(self, layer: Layer) -> Idiom:
        """The same ladder with its first rung on a layer; no rung above plays less of the melody than that."""
        first, *others = self.rungs
        higher = (replace(rung, layer=max(rung.layer, layer, key=lambda one: one.rank)) for rung in others)
        return replace(self, rungs=(replace(first, layer=layer), *higher))
