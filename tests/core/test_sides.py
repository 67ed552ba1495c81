"""Two links or two states of a run side by side, differences first."""

from __future__ import annotations

import pytest

from tests.rigs import s05
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.link.cable import Cable
from wavilex.core.link.scratch import LinkQuestion, compare_links
from wavilex.core.link.sides import side_by_side
from wavilex.core.tell.beside import compare_runs, comparisons


def test_what_differs_comes_first_and_what_one_lacks_is_a_dash() -> None:
    rows = side_by_side({"a": "1", "b": "2", "c": "3"}, {"a": "1", "b": "9", "d": "4"})
    assert [(r["name"], r["a"], r["b"]) for r in rows if r["differs"]] == [
        ("b", "2", "9"), ("c", "3", "—"), ("d", "—", "4"),
    ]  # fmt: skip
    assert [r["name"] for r in rows] == ["b", "c", "d", "a"]


def test_two_links_differ_in_figures_and_in_cells() -> None:
    a = LinkQuestion("frl:4x12", "frl:4x12", Cable("ultra", 2000), "vic:118", "rgb", 12)
    b = LinkQuestion("frl:4x12", "frl:4x10", Cable("ultra", 2000), "vic:118", "rgb", 12)
    told = compare_links(a, b)
    first = {r["name"]: r for r in told["rows"] if r["differs"]}
    assert {"answer", "receiving end", "link carries", "together"} <= set(first)
    assert "lead" not in first
    signals = {c["signal"]: (c["a"], c["b"]) for c in told["cells"]}
    assert signals["2160p120 RGB, 4:4:4 12-bit"] == ("fits", "blocked")
    assert "2160p60 RGB, 4:4:4 8-bit" not in signals
    assert compare_links(a, a)["cells"] == []


def test_a_run_against_another_setting_of_its_receiver() -> None:
    r = s05("widest")
    choices = {c["name"]: c["id"] for c in comparisons(Layer(r), r.runs["main"])}
    told = compare_runs(r, "plan", r.runs["main"], choices["AV · Game: Input format wide"])
    first = {row["name"]: (row["a"], row["b"]) for row in told["rows"] if row["differs"]}
    assert first["verdict"] == ("fits", "blocked")
    assert first["AV: Input format"] == ("widest", "wide")
    assert told["rows"][0]["differs"]
    assert {"signal": "2160p120 RGB, 4:4:4 10-bit", "a": "fits", "b": "blocked"} in told["cells"]


def test_a_run_against_how_it_was_found() -> None:
    r = s05()
    told = compare_runs(r, "plan", r.runs["main"], "layer:found")
    assert told["b"] == "the same run as found"
    assert any(row["differs"] for row in told["rows"])


@pytest.mark.parametrize("to", ["", "layer:dream", "run:none", "setting:av:game:format", "setting:av:game:format:x"])
def test_nothing_to_hold_it_against(to: str) -> None:
    r = s05()
    with pytest.raises(ChangeError):
        compare_runs(r, "plan", r.runs["main"], to)
