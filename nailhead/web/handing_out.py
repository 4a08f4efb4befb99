"""Keeps the bars of an arrangement when it leaves: printed, exported, sent home."""

from __future__ import annotations

import logging

from nailhead.store.database import Database
from nailhead.store.handed_out import record_hand_out
from nailhead.store.opening import DataFileError
from nailhead.web.bench import Bench, hand_out_document, hand_out_engine

_LOG = logging.getLogger(__name__)
#: Exports that a pupil plays from -> what they are called. Our own JSON carries every bar by itself.
NAMES = {
    "text": "text",
    "musicxml": "MusicXML",
    "abc": "ABC",
    "midi": "MIDI",
    "wav": "sound",
    "pdf": "PDF",
    "svg": "SVG",
    "png": "picture",
}


def handed_out(db: Database, bench: Bench, how: str) -> None:
    """Keep what leaves now. A disk without room for that is no reason to keep the sheet from the pupil."""
    document = hand_out_document(bench)
    try:
        with db.write() as connection:
            record_hand_out(connection, bench.setup.id, how, hand_out_engine(bench), document)
    except DataFileError as error:
        _LOG.warning("what was handed out of arrangement %s is not kept: %s", bench.setup.id, error)
