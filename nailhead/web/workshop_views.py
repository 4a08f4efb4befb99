"""Instruments, chord shapes, necks and the key table as models of the API."""

from __future__ import annotations

from typing import Any

from nailhead.core.arrange.rows.ways import idioms_of
from nailhead.core.errors import SetupError
from nailhead.core.fretboard.frets import HALF_FRETS
from nailhead.core.fretboard.instruments import Instrument, with_hand
from nailhead.core.fretboard.key_table import KeyWay, key_table
from nailhead.core.fretboard.own import STRINGS, OwnInstrument
from nailhead.core.fretboard.setup import DRONE_MOVES, Place, Setup, plain_setup
from nailhead.core.fretboard.shapes import Shape, distinct_shapes, shapes_for
from nailhead.core.fretboard.strings import gauges_text
from nailhead.core.music.chord import parse_chord, transpose_chord
from nailhead.core.music.key import MODES, Key, move_key, spell
from nailhead.core.music.pitch import Pitch, parse_pitch, parse_pitch_class
from nailhead.formats.arrangement_json import pitch_name
from nailhead.web.models import IdiomModel, InstrumentModel, OwnInstrumentModel, OwnTuningModel, TuningModel
from nailhead.web.plan_models import NeckFret
from nailhead.web.workshop import Workshop
from nailhead.web.workshop_models import (
    BareNeck,
    BareSetup,
    BarreModel,
    KeyRowModel,
    KeyTableModel,
    KeyWayModel,
    PlaceModel,
    PlacesWish,
    ShapeModel,
    ShapesModel,
    ShapeString,
    ShapesWish,
    TuningHead,
)

#: A neck is drawn at least to this fret, further where a place wants it.
DRAWN = 12
#: Highest position in which shapes are shown.
_SHOWN_POSITION = 9


def instrument_model(instrument: Instrument, shop: Workshop) -> InstrumentModel:
    drones: list[str] = []
    if instrument.short_strings:
        base = instrument.tunings[0].pitches[instrument.short_strings[0][0] - 1]
        key = Key(base.pitch_class)
        drones = [pitch_name(spell(base.cents + 100 * move, key)) for move in sorted(DRONE_MOVES)]
    own = shop.own.get(instrument.id)
    fewest, most = STRINGS[instrument.kind]
    return InstrumentModel(
        id=instrument.id,
        name=instrument.name,
        kind=instrument.kind,
        strings=instrument.strings,
        frets=whole_frets(instrument),
        scale_mm=instrument.scale_mm,
        courses=list(instrument.courses),
        gauges=gauges_text(tuple(reversed(instrument.gauges))),
        half_frets=[name for name in HALF_FRETS if name in instrument.fret_names],
        fewest_strings=fewest,
        most_strings=most,
        whole=list(instrument.whole),
        relative=instrument.relative,
        left_handed=instrument.left_handed,
        own=own[0] if own else None,
        made=_made(own[1]) if own else None,
        highest_capo=instrument.highest_capo,
        capos=list(instrument.capos),
        drone_choices=drones,
        tunings=[
            TuningModel(
                id=row.id,
                name=row.name,
                strings=[str(pitch) for pitch in row.pitches],
                usual=row.usual,
                own=shop.number_of(instrument.id, row.id),
            )
            for row in instrument.tunings
        ],
        idioms=[IdiomModel(id=row.id, name=row.name) for row in idioms_of(instrument)],
    )


def whole_frets(instrument: Instrument) -> int:
    """How many frets a player counts: half frets are between them."""
    return sum(name.isdigit() for name in instrument.fret_names) - 1 if instrument.fret_names else instrument.frets


def _made(own: OwnInstrument) -> OwnInstrumentModel:
    tuning = OwnTuningModel(name=own.tuning.name, open=own.tuning.open) if own.tuning else None
    return OwnInstrumentModel(
        name=own.name,
        kind=own.kind,
        strings=own.strings,
        scale_mm=own.scale_mm,
        frets=own.frets,
        half_frets=list(own.half_frets),
        gauges=own.gauges,
        courses=list(own.courses),
        left_handed=own.left_handed,
        tuning=tuning,
    )


def bare_setup(instrument: Instrument, wish: BareSetup) -> Setup:
    fifth = parse_pitch(wish.fifth, "fifth") if wish.fifth else None
    return plain_setup(instrument, instrument.tuning(wish.tuning), wish.capo, fifth)


# -- chord shapes


def shapes_model(instrument: Instrument, wish: ShapesWish) -> ShapesModel:
    """Shapes of a chord; an empty list where no hand of that size holds one."""
    setup = bare_setup(with_hand(instrument, wish.hand), wish)
    named = parse_chord(wish.chord)
    fifths = move_key(Key(named.root), setup.raised % 12)[1]
    sounding = transpose_chord(named, fifths) if wish.as_shape else named
    shape_name = named if wish.as_shape else transpose_chord(named, move_key(Key(named.root), -setup.raised % 12)[1])
    found = distinct_shapes(shapes_for(setup, sounding, _SHOWN_POSITION), wish.most)
    return ShapesModel(
        shape_name=str(shape_name),
        sounding_name=str(sounding),
        shapes=[shape_model(shape, setup, Key(sounding.root)) for shape in found],
    )


def shape_model(shape: Shape, setup: Setup, key: Key) -> ShapeModel:
    fingers = dict(shape.fingers)
    stops = [fret for _, fret in shape.frets if fret]
    strings = []
    for string in setup.strings:
        fret = 0 if string.drone else shape.fret(string.number)
        sounds = "" if fret is None else _note(setup, Place(string.number, fret), key)
        strings.append(
            ShapeString(
                number=string.number,
                fret=fret,
                name="" if fret is None else setup.fret_name(fret),
                finger=fingers.get(string.number, 0),
                pitch=sounds,
                drone=string.drone,
            )
        )
    return ShapeModel(
        strings=strings,
        barres=[BarreModel(**barre._asdict()) for barre in shape.barres],
        lowest=min(stops, default=0),
        highest=max(stops, default=0),
        span_mm=round(setup.distance_mm(min(stops), max(stops)), 1) if stops else 0,
        fingers=len(set(fingers.values())),
        cost=shape.cost,
        said=_told(shape, setup),
    )


def _note(setup: Setup, place: Place, key: Key) -> str:
    cents = setup.sounding_cents(place)
    return spell(cents, key).name if cents.denominator == 1 and cents % 100 == 0 else ""


def _told(shape: Shape, setup: Setup) -> str:
    fingers = len({finger for _, finger in shape.fingers})
    words = [f"{fingers} finger{'s' * (fingers != 1)}" if fingers else "all open"]
    if shape.barre:
        words.append("a barre")
    elif shape.barres:
        words.append("two strings under one finger")
    silent = sum(not string.drone for string in setup.strings) - len(shape.frets)
    if silent:
        words.append(f"{silent} string{'s' * (silent != 1)} left out")
    return ", ".join(words)


# -- necks


def bare_neck(instrument: Instrument, wish: PlacesWish) -> BareNeck:
    """A neck to scale with every place of a pitch, or of a note in every octave."""
    setup = bare_setup(instrument, wish)
    octaves = not any(letter.isdigit() for letter in wish.pitch)
    found = parse_pitch_class(wish.pitch, "pitch") if octaves else parse_pitch(wish.pitch, "pitch").pitch_class
    pitches = (
        [Pitch(found.step, found.alter, octave) for octave in range(1, 8)]
        if octaves
        else [parse_pitch(wish.pitch, "pitch")]
    )
    places = [(pitch, place) for pitch in pitches for place in _everywhere(setup, pitch)]
    if not places:
        raise SetupError(
            f"{wish.pitch} lies nowhere on this neck.", field="pitch", remedy="Ask for another note or octave."
        )
    last = min(instrument.frets, max(DRAWN, *(place.fret + setup.capo for _, place in places)))
    whole = instrument.fret_mm(last)
    return BareNeck(
        **neck_lines(setup, last),
        places=[
            PlaceModel(
                string=place.string,
                fret=setup.fret_name(place.fret),
                pitch=str(pitch),
                at=finger_mm(instrument, place, setup.capo) / whole,
            )
            for pitch, place in places
        ],
    )


def _everywhere(setup: Setup, pitch: Pitch) -> list[Place]:
    """Melody strings and drones: a short string from its own first fret on."""
    wanted = setup.cents_of(pitch)
    return [
        Place(string.number, fret)
        for string in setup.strings
        for fret in (0, *range(string.first_fret + 1, string.last_fret + 1))
        if setup.sounding_cents(Place(string.number, fret)) == wanted
    ]


def neck_lines(setup: Setup, last: int) -> dict[str, Any]:
    """What every neck shows up to a fret: strings, where they begin, frets, capo, hook."""
    instrument, capo = setup.instrument, setup.capo
    whole = instrument.fret_mm(last)
    return {
        "strings": [str(pitch.pitch_class) for pitch in setup.tuning.pitches],
        "courses": list(instrument.courses) or [1] * instrument.strings,
        "starts": [instrument.fret_mm(instrument.first_fret(n + 1)) / whole for n in range(instrument.strings)],
        "frets": [
            NeckFret(at=instrument.fret_mm(fret) / whole, name=setup.fret_name(fret - capo) if fret > capo else "")
            for fret in range(1, last + 1)
        ],
        "capo": instrument.fret_mm(capo) / whole if capo else None,
        "hook": instrument.fret_mm(setup.hook_fret) / whole if setup.hook_fret and setup.hook_fret <= last else None,
        "left_handed": instrument.left_handed,
    }


def finger_mm(instrument: Instrument, place: Place, capo: int) -> float:
    """Where the finger goes: between the fret and the one before; for an open string behind nut or capo."""
    fret = place.fret + capo
    if place.fret == 0:
        return instrument.fret_mm(fret)
    return (instrument.fret_mm(fret - 1) + instrument.fret_mm(fret)) / 2


# -- the key table


def key_table_model(instrument: Instrument, mode: str, every_tuning: bool) -> KeyTableModel:
    if mode not in MODES:
        raise SetupError(f"“{mode}” is not a mode.", field="mode", remedy=f"Choose one of: {', '.join(MODES)}.")
    tunings = [row for row in instrument.tunings if every_tuning or row.usual]
    return KeyTableModel(
        instrument=instrument.name,
        mode=mode,
        tunings=[TuningHead(id=row.id, name=row.name) for row in tunings],
        rows=[
            KeyRowModel(key=str(row.key), ways=[[_way(way) for way in ways] for ways in row.ways])
            for row in key_table(instrument, mode, tunings)
        ],
    )


def _way(way: KeyWay) -> KeyWayModel:
    return KeyWayModel(
        tuning=way.tuning.id,
        moved=way.tuning.moved,
        capo=way.capo,
        shape=str(way.shape.tonic),
        fifth=str(way.fifth.pitch_class) if way.fifth else None,
        hook_fret=way.hook_fret,
        tonic=way.tonic,
    )
