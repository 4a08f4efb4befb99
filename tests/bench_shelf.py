"""Speed of shelf, bringing in and desk: printed by `make bench`."""

from __future__ import annotations

import json
import tempfile
import time
from pathlib import Path

from fastapi.testclient import TestClient

from nailhead.formats.abc import write_tune
from nailhead.formats.abc.reader import read_entry, split_book
from nailhead.store.database import Database
from nailhead.store.shelf import find_tunes
from nailhead.store.tunes import add_tune
from nailhead.web.app import create_app
from nailhead.web.shelf import keep_facts
from tests.bench import bench_tune, timed


def main() -> None:
    texts = [write_tune(bench_tune(16 + 8 * (number % 3))) for number in range(12)]
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "bench.sqlite3")
        client = TestClient(create_app(database), "http://localhost")
        book = "\n".join(
            texts[number % 12].replace("T:Bench", f"T:Bench {number}").replace("K:G", f"N:{number}\nK:G")
            for number in range(500)
        )
        start = time.perf_counter()
        answer = client.post("/api/tunes/preview", files={"file": ("book.abc", book)})
        tunes = [json.loads(line) for line in answer.text.splitlines()][1:]
        middle = time.perf_counter()
        client.post("/api/tunes", json={"abc": "\n".join(tune["abc"] for tune in tunes)}).raise_for_status()
        end = time.perf_counter()
        print(f"500 tunes from one file: preview {middle - start:.1f} s, on the shelf {end - middle:.1f} s more")
        with database.write() as connection:
            for number in range(4500):
                tune_id = add_tune(connection, f"Shelf tune {number}", texts[number % 12])
                keep_facts(connection, tune_id, f"Shelf tune {number}", texts[number % 12])
        for words in ("", "tune 44", "g major reel", "nothing of it"):
            with database.read() as connection:
                search, _ = timed(lambda words=words, connection=connection: find_tunes(connection, words))
            whole, _ = timed(lambda words=words: client.get("/api/tunes", params={"find": words}))
            print(f"search “{words}” among 5,000: {search:.1f} ms, with its answer over HTTP {whole:.1f} ms")
        for bars in (32, 400):
            abc = write_tune(bench_tune(bars))
            read, _ = timed(lambda abc=abc: client.post("/api/desk/read", json={"abc": abc}), 5)
            parse, _ = timed(lambda abc=abc: [read_entry(*one) for one in split_book(abc)], 5)
            chords, _ = timed(lambda abc=abc: client.post("/api/desk/proposals", json={"abc": abc}), 3)
            print(f"desk, {bars} bars: ABC read {parse:.0f} ms, whole reading {read:.0f} ms, proposals {chords:.0f} ms")


if __name__ == "__main__":
    main()
