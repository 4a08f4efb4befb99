from nailhead.formats.midi.reader import MidiChoices, MidiError, MidiFile, MidiReading, MidiTrack, open_midi, read_midi
from nailhead.formats.midi.writer import write_midi

__all__ = [
    "MidiChoices",
    "MidiError",
    "MidiFile",
    "MidiReading",
    "MidiTrack",
    "open_midi",
    "read_midi",
    "write_midi",
]
