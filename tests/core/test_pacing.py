"""One answer to what a render rate looks like, on every page: by the column's own settings, source and output."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.arrivals import s17_arrival
from tests.rigs import device, lead, rig, run, s04, s05, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.modes.refresh import Pacing
from wavilex.core.modes.run_refresh import pacing_of, refresh_data, window_of
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig


def refreshed(r: Rig, run_uid: str = "main") -> Any:
    return refresh_data(Layer(r), run_result(Layer(r), r.runs[run_uid]))


def titles(r: Rig, run_uid: str = "main") -> dict[str, Any]:
    plans = title_plans(Layer(r), run_result(Layer(r), r.runs[run_uid]))
    assert plans is not None
    return {t["title"]: t for t in plans["titles"]}


def title(uid: str, name: str, *modes: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {"op": "add_title", "title": {"uid": uid, "name": name, "modes": list(modes), **more}}


@given(
    st.integers(20, 240), st.integers(24, 240),
    st.one_of(st.none(), st.tuples(st.integers(20, 100), st.integers(1, 200))),
    st.sampled_from([True, False, None]),
)  # fmt: skip
def test_even_by_trying_every_number_of_repeats(
    fps: int, hz: int, window: tuple[int, int] | None, repeats: bool | None
) -> None:
    """By brute force from the rule: in the window once; below it any number of times that lands in it, where frames are
    repeated and the window is two to one or wider (HDMI 2.1; narrower: often not, common practice); else whole
    refreshes.
    """
    pacing = Pacing(hz, (window[0], window[0] + window[1]) if window else None, repeats)
    s = pacing.of(fps)
    low, high = pacing.window or (0, 0)
    inside = bool(pacing.window) and low <= fps <= high
    doubled = (
        bool(pacing.window) and repeats is not False and fps < low and high >= 2 * low
        and any(low <= n * fps <= high for n in range(2, 20))
    )  # fmt: skip
    at_fixed = hz % fps == 0 and not (pacing.window and fps > high)
    assert s.even is (inside or doubled or at_fixed)
    assert ("not known" in s.words) is (doubled and repeats is None)
    if repeats is False:
        assert s.state != "repeated"


@pytest.mark.parametrize(
    ("hz", "window"), [(24, None), (30, None), (40, None), (41, (40, 41)), (60, (40, 60)), (240, (40, 144))]
)
def test_a_window_begins_below_the_outputs_rate_or_is_none(hz: int, window: tuple[int, int] | None) -> None:
    assert Pacing(hz, (40, 144), True).window == window


@pytest.mark.parametrize("hz", [24, 30])
def test_no_window_at_film_rates(hz: int) -> None:
    r, _ = apply(s05("widest"), [{"op": "set_want", "run": "main", "key": "mode", "value": f"3840x2160@{hz}"}])
    data = refreshed(r)
    assert data["window"] is None
    assert data["fixed_hz"] == hz


def test_a_source_that_repeats_nothing_is_never_said_to_repeat() -> None:
    """The One repeats no frames: below 48 Hz a 30 fps title is shown at the fixed rate, on every page."""
    r = rig(
        device("one", "ostavar-one"), device("tv", "ostavar-75g"), lead("A1", "one/hdmi", "tv/hdmi3"),
        setting("tv", "hdmi3", "format", "full"), {"op": "set_device", "device": "tv", "firmware": "3.2"},
        run("main", "one", "tv", mode="3840x2160@120", vrr=True), title("t", "Lantern Keep", {"fps": 35}),
    )  # fmt: skip
    layer = Layer(r)
    result = run_result(layer, r.runs["main"])
    assert window_of(layer, result) == (48, 120)
    assert pacing_of(layer, result).repeats is False
    data = refreshed(r)
    words = data["titles"][0]["rates"][0]["words"]
    assert words.startswith("below the window, where frames are not repeated: fixed rate")
    advice = titles(r)["Lantern Keep"]["mode"]
    assert advice is not None
    assert advice["shown"] == words.split(" (")[0]
    assert all("each frame shown" not in p["words"] or "fixed rate" in p["words"] for p in data["points"])


def test_a_column_that_switches_variable_refresh_off_speaks_of_a_fixed_rate() -> None:
    """Interpolation shuts variable refresh out here: the slow title's column has it off, the fast one's on."""
    columns = titles(s17_arrival())
    slow, fast = columns["Lantern Keep"], columns["Tide Racer"]
    assert slow["cells"]["tv/interpolation"]["option"] == "on"
    assert slow["cells"]["tv/vrr"]["option"] == "off"
    assert slow["mode"]["shown"].startswith("fixed rate")
    assert fast["cells"]["tv/vrr"]["option"] == "on"
    assert fast["mode"]["shown"].startswith("in the window")


def test_variable_refresh_switched_off_ends_the_window_without_a_quirk_that_says_so() -> None:
    r = s04()
    monitor = r.devices["monitor"].profile
    plain = monitor.model_copy(update={"quirks": tuple(q for q in monitor.quirks if q.kind != "limits")})
    data = plain.model_dump(mode="json", by_alias=True, exclude_unset=True)
    bare = apply(r, [{"op": "set_profile", "device": "monitor", "profile": {**data, "id": "bare-monitor"}}])[0]
    for value, there in (("on", True), ("off", False)):
        told = refreshed(apply(bare, [setting("monitor", "", "adaptive_sync", value)])[0])
        assert (told["window"] is not None) is there
        assert ("variable refresh is switched off at MONITOR" in told["why"]) is not there


def test_texts_name_the_rate_that_is_played() -> None:
    r, _ = apply(s17_arrival(), [title("t3", "Slow Boat", {"fps": 40, "name": "quality"})])
    why = titles(r)["Slow Boat"]["cells"]["tv/interpolation"]["why"]
    assert "40 frames a second" in why
    assert "30 frames a second" in titles(r)["Lantern Keep"]["cells"]["tv/interpolation"]["why"]


def test_detail_counts_the_lines_that_the_output_can_carry() -> None:
    """A mode of 2160 lines at 30 shows no more on a 1080-line screen than one of 1440 at 60: the faster is played."""
    r = rig(
        device("k1", "kelpine-k1"), device("screen", "ostavar-43p"),
        lead("A1", "k1/hdmi", "screen/hdmi1", "high_speed"), run("main", "k1", "screen", mode="1920x1080@60"),
        title("t", "Lantern Keep", {"fps": 30, "name": "quality", "lines": 2160},
              {"fps": 60, "name": "speed", "lines": 1440}),
        {"op": "set_style", "level": "job", "key": "rate_or_detail", "value": "detail"},
    )  # fmt: skip
    assert titles(r)["Lantern Keep"]["mode"]["fps"] == 60
    away: list[dict[str, Any]] = [{"op": "remove_lead", "lead": "A1"}, {"op": "remove_device", "device": "screen"}]
    larger, _ = apply(r, [*away, device("tv", "yarrowby-77e"),
                          lead("A2", "k1/hdmi", "tv/hdmi1"), run("big", "k1", "tv", mode="3840x2160@60"),
                          ])  # fmt: skip
    assert titles(larger, "big")["Lantern Keep"]["mode"]["fps"] == 30


def test_fifty_hertz_is_promised_only_where_it_is_listed() -> None:
    """±0.5 % about a listed clock is what CTA-861 asks of an input; value from memory."""

    def odd(r: Rig) -> dict[str, Any]:
        return {o["hz"]: o for o in refreshed(r)["odd_rates"]}

    def joined(screen: str, inp: str, mode: str) -> Rig:
        return rig(device("pc", "tindrel-r3"), device("screen", screen),
                   lead("A1", "pc/hdmi", f"screen/{inp}", "premium"),
                   run("main", "pc", "screen", mode=mode))  # fmt: skip

    listed = odd(joined("yarrowby-65s", "hdmi1", "1920x1080@60"))
    assert listed["50"]["taken"] is True
    assert "of the 50 Hz it lists" in listed["50"]["words"]
    other = odd(joined("yarrowby-65s", "hdmi1", "2560x1440@60"))  # it lists 1080p50, and nothing at 50 Hz of this size
    assert (other["50"]["taken"], other["50"]["words"]) == (
        None,
        "the screen lists nothing at 50 Hz in this size: try it",
    )
    assert "of the 60 Hz it lists" in other["60.05"]["words"]
