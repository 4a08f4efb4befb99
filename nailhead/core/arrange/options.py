"""Where good players differ: the choices of an arrangement (handbook §10)."""

from __future__ import annotations

from dataclasses import dataclass, fields

from nailhead.core.errors import PathError

#: What each option may be, the usual one first, in the words a teacher reads.
CHOICES: dict[str, tuple[str, ...]] = {
    "nail": ("index", "middle"),
    "head": ("clean", "thump"),
    "second_string": ("index", "thumb"),
    "pinch": ("thumb and middle", "index and middle"),
    "same_finger": ("never", "allowed"),
    "triplet": ("up down up", "down up down"),
}


#: What each choice is called on a screen.
LABELS: dict[str, str] = {
    "nail": "Nail that strikes",
    "head": "Stroke on the head",
    "second_string": "String 2 in fast rolls",
    "pinch": "Pinch with",
    "same_finger": "Same finger twice at speed",
    "triplet": "Triplet pickup",
}
#: Idiom -> the choices that its players have.
SCHOOLS: dict[str, tuple[str, ...]] = {
    "clawhammer": ("nail", "head"),
    "three-finger": ("second_string", "pinch", "same_finger"),
    "plectrum": ("triplet",),
}


@dataclass(frozen=True, slots=True)
class Options:
    """The school an arrangement follows.

    `nail` strikes down in clawhammer; `head` says whether that stroke thumps the head; `second_string` which finger
    takes string 2 in fast rolls; `pinch` which two fingers pinch; `same_finger` whether a finger may come twice
    running at speed; `triplet` how a pick plays a triplet that leads to a beat. Raises PathError for anything else.
    """

    nail: str = "index"
    head: str = "clean"
    second_string: str = "index"
    pinch: str = "thumb and middle"
    same_finger: str = "never"
    triplet: str = "up down up"

    def __post_init__(self) -> None:
        for field in fields(self):
            value = getattr(self, field.name)
            if value not in CHOICES[field.name]:
                raise PathError(
                    f"“{value}” is no choice for {field.name.replace('_', ' ')}.",
                    field=field.name,
                    remedy=f"Choose one of: {', '.join(CHOICES[field.name])}.",
                )


USUAL = Options()
