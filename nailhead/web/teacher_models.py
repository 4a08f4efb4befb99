"""What crosses the border for the teacher's own settings and habits."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nailhead.web.models import Model

Short = Annotated[str, Field(max_length=60)]
#: Things by name, a handful of them.
Names = Annotated[dict[Short, Short], Field(max_length=60)]


class LastUsed(Model):
    """Instrument and way of playing to begin with; the tune that was worked on last and its newest setup."""

    instrument: str
    idiom: str
    tune: int | None
    setup: int | None


class SettingsModel(Model):
    """What the teacher has settled once for all tunes.

    `instruments` are those she teaches (none: all), `tunings` what each is usually in, `schools` her way where players
    differ, `sheet` how new sheets look, by the names that a sheet's options have.
    """

    first_screen: Literal["shelf", "last ladder"] = "shelf"
    instruments: Annotated[list[Short], Field(max_length=100)] = Field(default_factory=list)
    tunings: Names = Field(default_factory=dict)
    hand: Literal["small", "medium", "large"] = "medium"
    units: Literal["metric", "imperial"] = "metric"
    schools: Names = Field(default_factory=dict)
    sheet: Names = Field(default_factory=dict)


class SchoolModel(Model):
    """Something in which players differ: its label, in which ways of playing, its ways, the usual one first."""

    name: str
    label: str
    played: str
    ways: list[str]


class Settled(Model):
    """The settings, and what there is to choose from."""

    settings: SettingsModel
    schools: list[SchoolModel]
    sheet: dict[str, list[str]]
