"""What has been practised of an arrangement: how far each step of its plan has come, and how the tempo is raised."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable
from dataclasses import asdict, dataclass, field, fields

from nailhead.core.practice.plan import Order
from nailhead.core.practice.tempo import Progress, TempoSteps
from nailhead.store.database import NotFoundError


@dataclass(frozen=True, slots=True)
class PracticeWish:
    """What a player has set: how the tempo is raised, in which order she learns."""

    tempo: TempoSteps = field(default_factory=TempoSteps)
    order: Order = Order.TUNE


def get_wish(connection: sqlite3.Connection, setup_id: int) -> PracticeWish:
    """Raises NotFoundError. What is kept and not known any more stands at its default."""
    row = connection.execute("SELECT practice FROM setup WHERE id = ?", (setup_id,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")
    kept = json.loads(row["practice"])
    known = {one.name for one in fields(TempoSteps)}
    order = kept.get("order")
    return PracticeWish(
        TempoSteps(**{name: value for name, value in kept.items() if name in known}),
        Order(order) if order in list(Order) else Order.TUNE,
    )


def set_wish(connection: sqlite3.Connection, setup_id: int, wish: PracticeWish) -> None:
    """Keep what a player has set; raises NotFoundError."""
    kept = json.dumps({**asdict(wish.tempo), "order": wish.order.value}, sort_keys=True)
    if not connection.execute("UPDATE setup SET practice = ? WHERE id = ?", (kept, setup_id)).rowcount:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")


def get_progress(connection: sqlite3.Connection, setup_id: int) -> dict[str, Progress]:
    """How far each step has come that was ever played, by its id."""
    rows = connection.execute("SELECT * FROM practised WHERE setup_id = ?", (setup_id,))
    return {row["step"]: Progress(row["percent"], row["clean"], row["played"], bool(row["done"])) for row in rows}


def keep_progress(
    connection: sqlite3.Connection, setup_id: int, step: str, change: Callable[[Progress | None], Progress]
) -> Progress:
    """What a change makes of a step's progress, kept in the same transaction: two windows both count."""
    made = change(get_progress(connection, setup_id).get(step))
    connection.execute(
        """
        INSERT INTO practised (setup_id, step, percent, clean, played, done) VALUES (?, ?, ?, ?, ?, ?)
        ON CONFLICT (setup_id, step) DO UPDATE SET
            percent = excluded.percent, clean = excluded.clean, played = excluded.played, done = excluded.done,
            played_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now')
        """,
        (setup_id, step, made.percent, made.clean, made.played, made.done),
    )
    return made
