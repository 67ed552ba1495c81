"""What squares, strips and boards say: texts that the page shows as they come."""

from __future__ import annotations

import pytest

from tests.rigs import s03
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.shape import _cure, _off, _words
from wavilex.core.lag.groups import Group
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.link.check import Verdict
from wavilex.core.link.table import cell_data, row_data
from wavilex.core.tell.view import job_view
from wavilex.core.video.codes import parse_timing


@pytest.mark.parametrize(
    ("verdict", "used", "stopped", "text", "said"),
    [
        ("fits", 25.4, None, "+75 %", "75 % left over"),
        ("tight", 98.6, None, "+1 %", "1 % left over"),
        ("blocked", 198.2, "rate", "−98 %", "98 % more than it has"),
        ("blocked", 50.0, "no_audio_room", "no sound", "no sound"),
        ("blocked", None, "not_offered", "not offered", "not offered"),
        ("unknown", None, None, "not known", "not known"),
        ("unknown", 40.0, "capacity_unknown", "not known", "not known"),
    ],
)
def test_a_square_says_what_is_left_or_what_stops_it(
    verdict: Verdict, used: float | None, stopped: str | None, text: str, said: str
) -> None:
    cell = cell_data("rgb", 8, verdict, used, stopped)
    assert (cell["text"], cell["said"]) == (text, said)


@pytest.mark.parametrize(
    ("address", "family", "fast"),
    [("vic:118", "VIC 118", True), ("vic:97", "VIC 97", False), ("cvt:2560x1440@120:rb1", "CVT-RB1", True)],
)
def test_a_row_names_its_timing(address: str, family: str, fast: bool) -> None:
    row = row_data(parse_timing(address), address, False, [cell_data("rgb", 8, "tight", 99.0, None)])
    assert (row["family"], row["fast"], row["carried"]) == (family, fast, True)
    assert not row_data(parse_timing(address), address, False, [])["carried"]


@pytest.mark.parametrize(
    ("error", "words"), [(33.33, "33.3 % too wide"), (-25.0, "25 % too narrow"), (0.99, ""), (1.0, "1 % too wide")]
)
def test_how_far_a_shape_is_off(error: float, words: str) -> None:
    """Within one percent nobody sees it: own figure."""
    assert _off(error) == words
    assert _words(error, 0).startswith(words or "true shape")


def test_what_the_best_setting_gives() -> None:
    assert [_cure(*x) for x in ((33.3, 0, 0), (33.3, 6.7, 0), (0, 0, 25), (0, 0, 0.5))] == [
        "True with", "Nearest with", "The whole of it with", "At its own size with",
    ]  # fmt: skip
    assert _words(0, 25) == "true shape; 25 % of the picture lies past the edges"


def test_the_board_in_a_sentence() -> None:
    view = job_view(Layer(s03()))
    assert view["summary"] == "2 sources, 0 boxes in between, 1 screen; sockets in Gb/s."
    assert {lead["short"] for lead in view["leads"]} <= {f"{n} %" for n in range(1000)} | {
        lead["label"] for lead in view["leads"]
    }


def readings(condition: str, *ms: float) -> Group:
    values = tuple(round(x * 1000) for x in ms)
    return Group(Cell(condition=condition), values, methods=("typed",) * len(values))


def test_the_bench_says_what_its_judgement_rests_on() -> None:
    quick = readings("game", *(11 + n / 10 for n in range(8)), 40.0)
    slow = readings("standard", *(90 + n / 10 for n in range(8)))
    report = lag_report([quick, slow], Asked(kind="monitor"))
    assert report["footing"].startswith("Bound 10 ms for a monitor: common practice")
    assert report["costs_footing"].startswith("“No practical change” needs the 90 % interval wholly within ±2 ms")
    first, second = report["conditions"]
    assert first["outliers_words"] == "1 stands out, and still counts: 40.0 ms"
    assert second["outliers_words"] == ""
    assert first["summary"] is not None
    assert first["summary"]["ci_words"] == "11.1 – 11.7 ms"  # order statistics 2 and 8 of nine, 96 %
    assert (report["costs"][0]["decided"], report["costs"][0]["because"] != "") == ("changed", True)
    few = lag_report([readings("game", 11, 12)], Asked(bound_ms=30))
    assert few["conditions"][0]["summary"] is not None
    assert few["conditions"][0]["summary"]["ci_words"] == "from 6 readings"
    assert few["footing"].startswith("Bound 30 ms for a television: asked here")


def test_many_looks_are_said_to_be_corrected() -> None:
    groups = [readings(name, *(n + k / 10 for k in range(7))) for n, name in enumerate(("a", "b", "c", "d"), 10)]
    assert lag_report(groups)["costs_footing"].startswith("Looking at 3 at once finds differences by chance")
