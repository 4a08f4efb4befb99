"""Imports point one way: web, books → store, formats, sheet → core; the core talks to nothing."""

from __future__ import annotations

import ast
import subprocess
import sys
from pathlib import Path

import pytest

import nailhead

ROOT = Path(nailhead.__file__).parent
#: Package -> packages of Nailhead it may import.
ALLOWED = {
    "core": {"core"},
    "formats": {"core", "formats"},
    "sheet": {"core", "sheet"},
    "store": {"core", "store"},
    "demo": {"core", "formats", "store", "demo"},
    "books": {"core", "formats", "sheet", "books"},
    "web": {"core", "formats", "sheet", "store", "web", "demo"},
}


def imports_of(path: Path) -> set[str]:
    """Packages of Nailhead that a file imports."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        names = [node.module or ""] if isinstance(node, ast.ImportFrom) else []
        names += [alias.name for alias in node.names] if isinstance(node, ast.Import) else []
        found |= {name.split(".")[1] for name in names if name.startswith("nailhead.")}
    return found


@pytest.mark.parametrize("layer", ALLOWED)
def test_a_layer_imports_only_what_lies_below(layer: str) -> None:
    """Each file of a package, by its own import statements."""
    for path in (ROOT / layer).rglob("*.py"):
        assert imports_of(path) <= ALLOWED[layer], path


#: The rooms of core/arrange from the ground up: each file may import from its own room and those before it.
ROOMS = ("", "rows", "left", "grade", "fit", "teacher")


def room_of(module: str) -> int:
    """Where a module of core/arrange belongs among the rooms; single files on the ground floor, but for the grade."""
    first, *rest = module.split(".")
    return ROOMS.index(first if rest or first == "grade" else "")


def test_rooms_of_the_arranger_import_what_lies_below() -> None:
    """Values, then rows, the left hand, the grade, the fitting, and what a teacher decides on top."""
    folder, seen = ROOT / "core" / "arrange", set()
    for path in folder.rglob("*.py"):
        module = ".".join(path.relative_to(folder).with_suffix("").parts)
        if module.endswith("__init__"):
            continue
        seen.add(room_of(module))
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("nailhead.core.arrange."):
                other = (node.module or "").removeprefix("nailhead.core.arrange.")
                assert room_of(other) <= room_of(module), f"{module} imports {other}"
    assert seen == set(range(len(ROOMS)))


def test_the_core_and_the_command_load_nothing_that_talks() -> None:
    """In a fresh interpreter: no web, no database, no XML after importing engine and command line."""
    code = (
        "import sys, nailhead.cli, nailhead.core.arrange.fit.ladder, nailhead.core.arrange.teacher.path;"
        "print(sorted(set(sys.modules) & {'fastapi','pydantic','sqlite3','uvicorn','xml','socket','random'}))"
    )
    result = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert result.stdout.strip() == "[]"


def test_files_stay_readable() -> None:
    """No module over 400 lines."""
    long = [path.name for path in ROOT.rglob("*.py") if len(path.read_text(encoding="utf-8").splitlines()) > 400]
    assert long == []
