"""The tuner: reference tones, a microphone that is none, and recordings that are measured."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Response, UploadFile

from nailhead.web.apart import ApartRoute
from nailhead.web.tuner import hear_recording, hear_string, reference_tone, tuner_model
from nailhead.web.workshop import Shop
from nailhead.web.workshop_models import BareSetup, HeardModel, ListenWish, TunerModel

router = APIRouter(prefix="/api/tuner", tags=["tuner"], route_class=ApartRoute)
ROUTERS = (router,)
Tuning = Annotated[str, Query(max_length=60)]
PitchName = Annotated[str | None, Query(max_length=60)]


@router.get("/{instrument}")
def strings(
    instrument: str,
    shop: Shop,
    tuning: Tuning,
    capo: Annotated[int, Query(ge=0, le=24)] = 0,
    fifth: PitchName = None,
    current: Annotated[str | None, Query(max_length=60)] = None,
) -> TunerModel:
    """The strings of a tuning one by one, from the tuning the instrument is in."""
    return tuner_model(shop.find(instrument), BareSetup(tuning=tuning, capo=capo, fifth=fifth), current)


@router.get("/{instrument}/tone", response_class=Response)
def tone(
    instrument: str,
    shop: Shop,
    tuning: Tuning,
    string: Annotated[int, Query(ge=1, le=24)],
    fifth: PitchName = None,
    off_cents: Annotated[float, Query(ge=-700, le=700)] = 0.0,
) -> Response:
    """A string plucked, as a WAV file; `off_cents` beside its pitch."""
    wish = BareSetup(tuning=tuning, fifth=fifth)
    data = reference_tone(shop.find(instrument), wish, string, off_cents)
    return Response(data, media_type="audio/wav", headers={"Cache-Control": "private, max-age=86400"})


@router.post("/{instrument}/hear")
def hear(instrument: str, wish: ListenWish, shop: Shop) -> HeardModel:
    """What the simulated microphone hears of a string."""
    return hear_string(shop.find(instrument), wish)


@router.post("/{instrument}/recording")
def recording(
    instrument: str,
    shop: Shop,
    file: UploadFile,
    tuning: Annotated[str, Form(max_length=60)],
    fifth: Annotated[str, Form(max_length=60)] = "",
) -> HeardModel:
    """The pitch of a recording, and the string it is nearest to."""
    wish = BareSetup(tuning=tuning, fifth=fifth or None)
    return hear_recording(shop.find(instrument), wish, file.file.read())
