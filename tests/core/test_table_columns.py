"""The carry table: a column for every encoding the run offers, and the wanted row fits wherever the headline does."""

from __future__ import annotations

import pytest

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.advise.table import carry_table
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.offer import station_encodings
from wavilex.core.chain.paths import Layer
from wavilex.core.link.table import CARRIED
from wavilex.core.tell.report import table_data

MODES = ("3840x2160@120", "3840x2160@60", "2560x1440@120", "1920x1080@120", "1920x1080@60")
SCREENS = ("yarrowby-50w", "yarrowby-65s", "ostavar-75g", "kelpine-m32", "yarrowby-55h")


@pytest.mark.parametrize("screen", SCREENS)
@pytest.mark.parametrize("mode", MODES)
@pytest.mark.parametrize("hdr", ["off", "static"])
def test_the_wanted_row_is_not_all_crosses_where_the_run_fits(screen: str, mode: str, hdr: str) -> None:
    """Reference: every encoding and depth that each socket of the way handles, set against the columns."""
    r = rig(device("k", "kelpine-k1"), device("tv", screen), lead("L", "k/hdmi", "tv/hdmi1"),
            run("main", "k", "tv", mode=mode, hdr=hdr), setting("k", "", "fast_refresh", "on"))  # fmt: skip
    layer = Layer(r)
    result, rows = run_result(layer, r.runs["main"]), carry_table(layer, r.runs["main"])
    wanted = [row for row in rows if row.wanted]
    if result.good:
        assert any(c.verdict in CARRIED for c in wanted[0].cells), result.asked
    for row in rows:
        offered = set.intersection(*(
            station_encodings(s, row.timing, ("rgb", "444", "422", "420"), 8) for s in result.stations
        ))  # fmt: skip
        columns = {(c.encoding, c.bits) for c in row.cells if c.stopped_by != "not_offered"}
        assert {("rgb" if e == "444" else e, b) for e, b in offered if e not in ("422",)} <= columns
        assert any(e == "422" for e, _ in offered) == any(e == "422" for e, _ in columns)


def test_a_cell_says_what_is_left_or_missing_never_both_alike() -> None:
    r = rig(device("k", "kelpine-k1"), device("tv", "yarrowby-50w"), lead("L", "k/hdmi", "tv/hdmi1"),
            run("main", "k", "tv", mode="3840x2160@60"), setting("tv", "hdmi1", "format", "wide"))  # fmt: skip
    cells = [c for row in table_data(carry_table(Layer(r), r.runs["main"]))["rows"] for c in row["cells"]]
    judged = [c for c in cells if c["used_percent"] is not None]
    assert {c["text"][0] for c in judged} == {"+", "−"}
    for c in judged:
        over = round(c["used_percent"] or 0) - 100
        assert c["text"] == (f"−{over} %" if c["verdict"] == "blocked" else f"+{-over} %")
