"""The tuner behind its handlers: strings to tune, tones to tune by, pitches that were heard."""

from __future__ import annotations

from math import log2

from nailhead.core.errors import SetupError
from nailhead.core.fretboard.cautions import EARS_CAUTION, Retuning, caution_of, retuned
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Setup
from nailhead.core.fretboard.strings import tension_n
from nailhead.core.music.pitch import hertz_of
from nailhead.core.sound.listen import Heard, listen
from nailhead.core.sound.microphone import Room, hear
from nailhead.core.sound.pluck import RATE, pluck, timbre_of
from nailhead.formats.wav import read_sound, write_wav
from nailhead.web.workshop_models import BareSetup, HeardModel, ListenWish, TunerModel, TunerString
from nailhead.web.workshop_views import bare_setup

#: Seconds of a reference tone.
TONE_S = 2.5
#: Within so many cents a string is called in tune (common practice).
IN_TUNE_CENTS = 4
#: Loud instruments, whose cautions name the ears.
_LOUD = ("banjo", "saz", "saz-short")


def tuner_model(instrument: Instrument, wish: BareSetup, current: str | None) -> TunerModel:
    """Strings n to 1, each from its pitch in `current` (None: the tuning itself)."""
    setup = bare_setup(instrument, wish)
    before = instrument.tuning(current, "current") if current else setup.tuning
    changes = {change.string: change for change in retuned(setup, before)}
    strings = [
        _string(setup, number, str(before.pitches[number - 1]), changes.get(number))
        for number in range(instrument.strings, 0, -1)
    ]
    cautions = [EARS_CAUTION] if instrument.kind in _LOUD else []
    return TunerModel(instrument=instrument.name, tuning=setup.tuning.label, strings=strings, cautions=cautions)


def _string(setup: Setup, number: int, before: str, change: Retuning | None) -> TunerString:
    instrument = setup.instrument
    hertz = open_hertz(setup, number)
    gauge = instrument.gauges[number - 1] if instrument.gauges else None
    pull = tension_n(gauge, instrument.speaking_mm(number), hertz) if gauge else None
    return TunerString(
        number=number,
        pitch=str(change.pitch if change else setup.tuning.pitches[number - 1]),
        hertz=round(hertz, 3),
        from_pitch=before,
        semitones=change.semitones if change else 0,
        tension_percent=round(change.tension_percent, 1) if change else 0,
        tension_n=_rounded(change.tension_n if change else pull),
        before_n=_rounded(change.before_n if change else pull),
        caution=caution_of(change, bool(instrument.highest_capo)) if change and not instrument.relative else "",
    )


def _rounded(newtons: float | None) -> float | None:
    return None if newtons is None else round(newtons, 1)


def open_hertz(setup: Setup, number: int) -> float:
    """The open string without a capo; a short string that its peg has moved at its new pitch."""
    if not 1 <= number <= setup.instrument.strings:
        raise SetupError(
            f"There is no string {number}.", field="string", remedy=f"Choose 1 to {setup.instrument.strings}."
        )
    moved = setup.fifth is not None and setup.hook_fret is None and setup.instrument.first_fret(number) > 0
    pitch = setup.fifth if moved and setup.fifth else setup.tuning.pitches[number - 1]
    return hertz_of(setup.cents_of(pitch))


def reference_tone(instrument: Instrument, wish: BareSetup, string: int, off_cents: float) -> bytes:
    """A plucked string as a WAV file."""
    hertz = open_hertz(bare_setup(instrument, wish), string) * 2 ** (off_cents / 1200)
    return write_wav(pluck(hertz, TONE_S, timbre_of(instrument.kind)), RATE)


def hear_string(instrument: Instrument, wish: ListenWish) -> HeardModel:
    """The simulated microphone before a string that may be out of tune."""
    setup = bare_setup(instrument, wish)
    hertz = open_hertz(setup, wish.string)
    heard = hear(hertz, wish.off_cents, timbre_of(instrument.kind), Room(wish.noise_db))
    return _told(heard, setup, wish.string)


def hear_recording(instrument: Instrument, wish: BareSetup, data: bytes) -> HeardModel:
    """The pitch of a recording against the nearest string."""
    setup = bare_setup(instrument, wish)
    heard = listen(*read_sound(data))
    nearest = min(
        range(1, instrument.strings + 1), key=lambda number: abs(log2(heard.hertz / open_hertz(setup, number)))
    )
    return _told(heard, setup, nearest)


def _told(heard: Heard, setup: Setup, number: int) -> HeardModel:
    off = 1200 * log2(heard.hertz / open_hertz(setup, number))
    pitch = setup.tuning.pitches[number - 1]
    if abs(off) <= IN_TUNE_CENTS:
        said = f"String {number} is in tune."
    else:
        amount = "a little" if abs(off) < 20 else "some" if abs(off) < 60 else "a good way"
        said = f"String {number} is {'low: bring it up' if off < 0 else 'high: let it down'} {amount}."
    return HeardModel(
        hertz=round(heard.hertz, 2),
        spread_cents=round(heard.spread_cents, 1),
        string=number,
        pitch=str(pitch),
        off_cents=round(off, 1),
        said=said,
    )
