"""What docs/architecture.md says of where things are is so."""

from __future__ import annotations

import re
import tomllib
from importlib import import_module
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
TEXT = (ROOT / "docs" / "architecture.md").read_text(encoding="utf-8")
RULES = re.findall(r"^\| ([^|]+) \| `(core/[a-z/_]+)\.py` \| `(\w+)` \|$", TEXT, re.MULTILINE)


def test_a_couple_of_dozen_figures_are_one_hop_from_their_rule() -> None:
    assert len(RULES) >= 24
    assert len({shown for shown, _, _ in RULES}) == len(RULES)


@pytest.mark.parametrize(("shown", "file", "function"), RULES)
def test_the_rule_stands_where_it_is_said_to(shown: str, file: str, function: str) -> None:
    home = import_module("wavilex." + file.replace("/", "."))
    rule = getattr(home, function)
    assert not hasattr(rule, "__module__") or rule.__module__ == home.__name__, shown


def test_every_room_is_told_in_the_linters_order() -> None:
    told = re.findall(r"`(\w+)/`", TEXT.split("## Rooms of the core")[1].split("Beside them")[0])
    settings = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))
    contracts = settings["tool"]["importlinter"]["contracts"]
    layers = next(c["layers"] for c in contracts if c.get("containers") == ["wavilex.core"])[:-1]  # the root's files
    listed = [n.strip() for line in reversed(layers) for n in line.split("|") if "(" not in n]
    core = ROOT / "src" / "wavilex" / "core"
    rooms = {p.name for p in core.iterdir() if (p / "__init__.py").exists()}
    assert told == [n for n in listed if n in rooms]
    assert set(told) == rooms
