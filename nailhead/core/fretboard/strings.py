"""Strings as wire: gauges, tension and stress (Mersenne's law), and the note a length of wire gives.

T = mu (2 L f)^2 with mu = density x pi d^2 / 4; stress = density (2 L f)^2, whatever the gauge (handbook §2, §9).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import pi

from nailhead.core.errors import SetupError

#: Thinnest and thickest string that is believed, in millimetres.
THINNEST_MM, THICKEST_MM = 0.15, 2.5


@dataclass(frozen=True, slots=True)
class Wire:
    """What a string is made of: `density` in kg/m³ over its whole cross-section; `steel` where steel bears the pull."""

    name: str
    density: float
    steel: bool


#: Plain steel and nylon: handbook §2. A wound string is lighter than a solid one of its gauge, by about a tenth on
#: steel; metal on a nylon core makes up most of its weight (both from memory, so their newtons are estimates).
WIRES: dict[str, Wire] = {
    wire.name: wire
    for wire in (
        Wire("plain steel", 7850.0, True),
        Wire("wound steel", 7000.0, True),
        Wire("nylon", 1140.0, False),
        Wire("wound nylon", 4300.0, False),
    )
}


@dataclass(frozen=True, slots=True)
class Gauge:
    """One string: its diameter in millimetres and its wire, a name of WIRES."""

    diameter_mm: float
    wire: str = "plain steel"

    def __post_init__(self) -> None:
        if self.wire not in WIRES:
            raise SetupError(
                f"“{self.wire}” is no kind of string.", field="gauges", remedy=f"Choose one of: {', '.join(WIRES)}."
            )
        if not THINNEST_MM <= self.diameter_mm <= THICKEST_MM:
            raise SetupError(
                f"A string {self.diameter_mm:g} mm thick cannot be.",
                field="gauges",
                remedy=f"Give {THINNEST_MM:g} to {THICKEST_MM:g} millimetres (0.010 inch is 0.254 mm).",
            )

    @property
    def steel(self) -> bool:
        return WIRES[self.wire].steel

    @property
    def mass_kg_m(self) -> float:
        """Mass of a metre of it: density x pi d^2 / 4."""
        return WIRES[self.wire].density * pi * (self.diameter_mm / 1000) ** 2 / 4


def parse_gauges(text: str) -> tuple[Gauge, ...]:
    """Read "0.254 0.28 0.33 0.51w": millimetres, w for wound, n for nylon, nw for nylon wound with metal."""
    endings = {ending: wire for wire, ending in _ENDINGS.items()}
    gauges = []
    for word in text.split():
        number = word.rstrip("nw")
        try:
            diameter, wire = float(number), endings[word[len(number) :]]
        except (ValueError, KeyError):
            raise SetupError(
                f"“{word}” is not a string gauge.",
                field="gauges",
                remedy="Write millimetres, with w for wound and n for nylon: 0.254 0.51w 0.71n.",
            ) from None
        gauges.append(Gauge(diameter, wire))
    return tuple(gauges)


_ENDINGS = {"plain steel": "", "wound steel": "w", "nylon": "n", "wound nylon": "nw"}


def gauges_text(gauges: tuple[Gauge, ...]) -> str:
    """The inverse of parse_gauges."""
    return " ".join(f"{gauge.diameter_mm:g}{_ENDINGS[gauge.wire]}" for gauge in gauges)


def tension_n(gauge: Gauge, length_mm: float, frequency_hz: float) -> float:
    """Pull of a string of that speaking length at that pitch, in newtons."""
    return gauge.mass_kg_m * (2 * length_mm / 1000 * frequency_hz) ** 2


def stress_pa(length_mm: float, frequency_hz: float, density: float = WIRES["plain steel"].density) -> float:
    """Stress of a string of that speaking length at that pitch, in pascals: the same for every gauge."""
    return density * (2 * length_mm / 1000 * frequency_hz) ** 2
