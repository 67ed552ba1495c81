"""What every answer comes to, in a short digest by name; the whole texts are shown by `make kept`."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from tests.kept.rigs import RIGS, answers
from tests.kept.sums import SUMS
from tests.kept.text import text

FILE = Path(__file__).with_name("digests.txt")
CASES = (*(f"rig {name}" for name in RIGS), *SUMS)


def told(case: str) -> dict[str, Any]:
    """The answers of a case by name. Raises KeyError where there is no such case."""
    if case in SUMS:
        return SUMS[case]()
    return answers(RIGS[case.removeprefix("rig ")]())


def gathered(case: str) -> Iterator[tuple[str, dict[str, Any]]]:
    """The answers a digest stands for: one of a rig; of the rest, those whose names begin alike."""
    found: dict[str, dict[str, Any]] = {}
    for name, value in told(case).items():
        found.setdefault(name if case.startswith("rig ") else name.split()[0], {})[name] = value
    yield from found.items()


def digests(case: str) -> dict[str, str]:
    return {name: hashlib.sha256(text(value).encode()).hexdigest()[:12] for name, value in gathered(case)}


def kept() -> dict[str, dict[str, str]]:
    """What is committed, by case and name."""
    found: dict[str, dict[str, str]] = {}
    for line in FILE.read_text(encoding="utf-8").splitlines():
        case, name, digest = line.split(" | ")
        found.setdefault(case, {})[name] = digest
    return found


def write() -> None:
    rows = [f"{case} | {name} | {digest}" for case in CASES for name, digest in digests(case).items()]
    FILE.write_text("\n".join(rows) + "\n", encoding="utf-8")
