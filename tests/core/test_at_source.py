"""Steps at the source besides its settings: the title's own option, the PC's list, HDR set up for this screen."""

from __future__ import annotations

from typing import Any

from tests.rigs import device, lead, rig, run, s07, setting
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.runsheet.step import ORDER


def fast(source: str, *ops: dict[str, Any], **want: Any) -> Rig:
    title = {"uid": "t", "name": "Tide Racer", "modes": [{"name": "fast", "fps": 120}, {"name": "fine", "fps": 60}]}
    return rig(device("s", source), device("tv", "yarrowby-77e"), lead("L", "s/hdmi", "tv/hdmi1"),
               {"op": "add_title", "title": title},
               run("main", "s", "tv", **{"mode": "3840x2160@120"} | want), *ops)  # fmt: skip


def titles(r: Rig) -> list[str]:
    return [s.title for s in plan_steps(r)]


def test_the_titles_own_option_is_a_step_where_the_run_is_fast_and_the_title_is_too() -> None:
    allowed = setting("s", "", "fast_refresh", "on")
    assert "main: in Tide Racer, its own options → fast, 120 frames a second" in titles(fast("kelpine-k1", allowed))
    slow = fast("kelpine-k1", allowed, mode="3840x2160@60")
    assert not any("its own options" in t for t in titles(slow))
    assert not any("its own options" in t for t in titles(fast("kelpine-k1")))  # 120 Hz is not had yet


def test_a_pc_takes_the_mode_from_its_own_list() -> None:
    found = [s for s in plan_steps(fast("tindrel-l16", vrr=True)) if "PC’s own list" in s.title]
    assert [s.phase for s in found] == ["source"]
    assert "keyboard" in found[0].stands
    assert not any("PC’s own list" in t for t in titles(fast("kelpine-k1", setting("s", "", "fast_refresh", "on"))))


def test_hdr_is_set_up_at_the_source_after_its_cell() -> None:
    steps = plan_steps(s07())
    order = [s.title for s in steps]
    for label in ("K1", "ONE"):
        mine = next(n for n, t in enumerate(order) if t.startswith(f"{label}: its HDR set-up"))
        assert steps[mine].phase == "range"
    assert not any(t.startswith("K2: its HDR set-up") for t in order)  # its run is in standard range
    assert [ORDER.index(s.phase) for s in steps] == sorted(ORDER.index(s.phase) for s in steps)
