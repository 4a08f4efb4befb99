"""Puts the practice room of an arrangement together, for the screen and for a page to take home."""

from __future__ import annotations

from collections.abc import Callable

from nailhead.core.fretboard.cautions import EARS_CAUTION, HANDS_CAUTION
from nailhead.core.practice.backing import rows_for
from nailhead.core.practice.drills import drills_of
from nailhead.core.practice.material import Material
from nailhead.core.practice.score import drill_score, score_of
from nailhead.core.sound.playing import pace_at
from nailhead.core.sound.voices import EDITION
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.practice_lines import SIZES, drill_lines, lines_of
from nailhead.web.room_models import RoomModel, VoiceModel, drill_model, score_model, voices_in

#: Minutes after which a break is due (handbook §9: short sessions with breaks; the number is ours).
BREAK_AFTER_MIN = 25


def voice_address(name: str) -> str:
    """Where the server has a sound."""
    return f"/api/voices/{EDITION}/{name}"


def room_of(
    material: Material,
    options: SheetOptions,
    size: str,
    called: str = "",
    tune_id: int | None = None,
    address: Callable[[str], str] = voice_address,
) -> RoomModel:
    """The practice room of an arrangement; `address` says where a sound is."""
    ladder = material.ladder
    kind, pace = ladder.fit.setup.instrument.kind, pace_at(ladder.tune)
    score = score_model(score_of(material), lines_of(material, options, size), kind)
    drills = [
        drill_model(drill, score_model(drill_score(ladder, drill), drill_lines(ladder, drill, options, size), kind))
        for drill in drills_of(material)
    ]
    names = voices_in([score, *(drill.score for drill in drills)])
    return RoomModel(
        title=ladder.tune.title,
        called=called,
        label=f"{ladder.fit.setup.instrument.name}: {ladder.fit.setup.label}",
        tune_id=tune_id,
        bpm=pace.bpm,
        beat=str(pace.beat),
        whole_s=pace.whole,
        swing=1.0 if options.feel == "swing" else 0.0,
        companies=[row.name for row in rows_for(ladder.tune.metre)],
        sizes=list(SIZES),
        size=size,
        score=score,
        drills=drills,
        voices=[VoiceModel(name=one, address=address(one)) for one in names],
        cautions=[HANDS_CAUTION, EARS_CAUTION],
        break_after_min=BREAK_AFTER_MIN,
    )
