"""Packets: the sheets of several arrangements as one PDF, made in the background with progress, and cancelled."""

from __future__ import annotations

import logging
import threading
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import count

from nailhead.core.errors import NailheadError
from nailhead.sheet.handout import layout_contents
from nailhead.sheet.inks import INKS
from nailhead.sheet.marks import Text
from nailhead.sheet.page import Page, Sheet, layout_sheet
from nailhead.sheet.pdf import write_pdf
from nailhead.store.database import Database, NotFoundError
from nailhead.web.bench import open_bench
from nailhead.web.handing_out import handed_out
from nailhead.web.workers import Workers
from nailhead.web.workshop import open_workshop

LOG = logging.getLogger(__name__)
#: So many finished packets are kept in memory.
KEPT = 8

#: Seconds that binding may take beside half a second a sheet.
BINDING = 20


@dataclass
class Packet:
    """A packet under way. `left_out` says which arrangements could not be printed, and why."""

    number: int
    total: int
    done: int = 0
    body: bytes | None = None
    error: str = ""
    left_out: list[str] = field(default_factory=list)
    cancelled: threading.Event = field(default_factory=threading.Event)

    @property
    def state(self) -> str:
        if self.cancelled.is_set():
            return "cancelled"
        return "failed" if self.error else "ready" if self.body is not None else "working"


class PacketDesk:
    """The packets of one application; safe to use from several threads."""

    def __init__(self, workers: Workers | None = None) -> None:
        self._workers = workers
        self._packets: OrderedDict[int, Packet] = OrderedDict()
        self._numbers = count(1)
        self._lock = threading.Lock()

    def start(self, title: str, colours: str, paper: str, wanted: Sequence[int], db: Database) -> Packet:
        """Begins a packet and returns at once."""
        with self._lock:
            packet = Packet(next(self._numbers), len(wanted))
            self._packets[packet.number] = packet
            while len(self._packets) > KEPT:
                self._packets.popitem(last=False)[1].cancelled.set()
        thread = threading.Thread(
            target=_work, args=(packet, title, colours, paper, list(wanted), db, self._workers), daemon=True
        )
        thread.start()
        return packet

    def find(self, number: int) -> Packet:
        """One packet; raises NotFoundError."""
        with self._lock:
            packet = self._packets.get(number)
        if packet is None:
            raise NotFoundError(f"There is no packet {number}.", field="packet", remedy="Start it again.")
        return packet

    def cancel(self, number: int) -> None:
        """Stops a packet before its next sheet and forgets it."""
        self.find(number).cancelled.set()
        with self._lock:
            self._packets.pop(number, None)


def _work(
    packet: Packet, title: str, colours: str, paper: str, wanted: list[int], db: Database, workers: Workers | None
) -> None:
    """The whole of it; whatever goes wrong is told, for nobody would hear a thread die."""
    try:
        _make(packet, title, colours, paper, wanted, db, workers)
    except Exception as error:
        LOG.exception("packet %s failed", packet.number)
        packet.error = f"The packet could not be made: {error}"


def _make(
    packet: Packet, title: str, colours: str, paper: str, wanted: list[int], db: Database, workers: Workers | None
) -> None:
    """Sheet after sheet, then the contents in front; an arrangement that cannot be printed is named and left out."""
    sheets: list[tuple[Sheet, str]] = []
    for one in wanted:
        if packet.cancelled.is_set():
            return
        try:
            arguments = (db, one, paper, colours)
            sheets.append(workers.wait_for(lay, *arguments) if workers else lay(*arguments))
        except NailheadError as error:
            packet.left_out.append(str(error))
        packet.done += 1
    if not sheets:
        packet.error = "Nothing in it can be printed."
        return
    given = (title, paper, sheets, colours)
    body = workers.wait_for(bound, *given, seconds=BINDING + len(sheets) / 2) if workers else bound(*given)
    if not packet.cancelled.is_set():
        packet.body = body


def lay(db: Database, setup_id: int, paper: str, colours: str) -> tuple[Sheet, str]:
    """One sheet of a packet, and what it is set for; raises NailheadError where it cannot be printed."""
    with db.read() as connection:
        shop = open_workshop(connection)
    bench = open_bench(db, setup_id, shop)
    setup = bench.computed.fit.setup
    label = f"{setup.instrument.name}: {setup.label} · {bench.called}"
    sheet = layout_sheet(bench.ladder, bench.arrangement, bench.sheet.on(paper, colours))
    handed_out(db, bench, "booklet")
    return sheet, label


def bound(title: str, paper: str, sheets: Sequence[tuple[Sheet, str]], colours: str) -> bytes:
    """The packet as PDF."""
    return write_pdf(bind(title, paper, sheets), title, INKS[colours])


def bind(title: str, paper: str, sheets: Sequence[tuple[Sheet, str]]) -> list[Sheet]:
    """The contents, then the sheets, with the pages of the packet counted through."""
    names = [(sheet.title, label) for sheet, label in sheets]
    front = len(layout_contents([(name, label, 0) for name, label in names], paper, title).pages)
    first, at = [], front + 1
    for sheet, _ in sheets:
        first.append(at)
        at += len(sheet.pages)
    entries = [(name, label, page) for (name, label), page in zip(names, first, strict=True)]
    contents = layout_contents(entries, paper, title)
    return [contents, *(_numbered(sheet, start) for (sheet, _), start in zip(sheets, first, strict=True))]


def _numbered(sheet: Sheet, first: int) -> Sheet:
    """The sheet with the packet's page number in the middle of each footer."""
    pages = []
    for at, page in enumerate(sheet.pages, first):
        number = Text(sheet.width / 2, sheet.height - 12.0, str(at), 2.8)
        pages.append(Page((*page.marks, number)))
    return replace(sheet, pages=tuple(pages))
