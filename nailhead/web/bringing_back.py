"""What an arrangement's file was made from: our own JSON and scores, and scores with tablature from elsewhere."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.rows.ways import idioms_of, options_of
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.cells import with_kept
from nailhead.core.arrange.teacher.entering import EnteredBarsError, enter_bars, with_changes
from nailhead.core.errors import NailheadError
from nailhead.core.sniffing import Content, content_of
from nailhead.formats.abc import write_tune
from nailhead.formats.arrangement_file import Source, read_source
from nailhead.formats.arrangement_json import pitch_name
from nailhead.formats.musicxml.carried import carried
from nailhead.formats.musicxml.tab_reader import TabReading, read_tablature
from nailhead.web.ladders import fit_stored
from nailhead.web.workshop import Workshop


def source_of_file(raw: bytes, shop: Workshop) -> tuple[Source, list[str]]:
    """What is in a file, and what of it is to be said; raises NailheadError where nothing can be made of it."""
    if content_of(raw) not in (Content.XML, Content.ZIP):
        return read_source(raw.decode(errors="replace")), []
    found = carried(raw)
    if found is None:
        return _source_of_tab(read_tablature(raw, shop.instruments.values()), shop)
    source = read_source(found[0])
    if found[1]:
        return source, []
    return _with_what_changed(source, raw, shop)


def _source_of_tab(read: TabReading, shop: Workshop) -> tuple[Source, list[str]]:
    """Every bar as the score has it, hand-edited, on a ladder of the melody that is read out of it."""
    setup = read.setup
    idioms = idioms_of(setup.instrument)
    # Which finger strikes tells two styles apart where an instrument has both.
    fingered = [idiom for idiom in idioms if idiom.right.fingered == read.fingers]
    source = Source(
        write_tune(read.tune),
        "From a score",
        setup.instrument.id,
        (fingered or list(idioms))[0].id,
        setup.tuning.id,
        setup.capo,
        pitch_name(setup.fifth) if setup.fifth else None,
        str(read.tune.key.tonic).replace("♯", "#").replace("♭", "b"),
        {},
        {},
        Arrangement(()),
    )
    ladder = _ladder(source, shop)
    return replace(source, decisions=enter_bars(ladder, read.bars)), list(read.notices)


def _with_what_changed(source: Source, raw: bytes, shop: Workshop) -> tuple[Source, list[str]]:
    """Our own score after somebody worked on it: bars that are fretted otherwise now come as hand edits."""
    try:
        read = read_tablature(raw, shop.instruments.values())
        ladder = _ladder(source, shop)
        if read.setup != ladder.fit.setup:
            raise EnteredBarsError("It is tuned otherwise now.", field="file")
        decisions, changed = with_changes(with_kept(ladder, source.decisions), source.decisions, read.bars)
    except NailheadError as error:
        return source, [f"The score was changed elsewhere; those changes are not read: {error.message}"]
    said = "The score was changed elsewhere; no fret of it was."
    if changed:
        numbers = ", ".join(str(ladder.tune.bars[index].number) for index in changed)
        said = f"Changed elsewhere and kept as hand edits: bar {numbers}."
    return replace(source, decisions=decisions), [said]


def _ladder(source: Source, shop: Workshop) -> Ladder:
    instrument = shop.find(source.instrument)
    fit = fit_stored(source.abc, instrument, source.idiom, source.tuning, source.capo, source.fifth, source.key)
    return build_ladder(fit, source.idiom, options_of(source.options))
