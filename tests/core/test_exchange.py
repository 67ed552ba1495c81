"""A box put into a lead, and another in the place of one: what people said of the job stays."""

from __future__ import annotations

import pytest

from tests.arrival_rigs import wide
from tests.rigs import device, lead, rig, run, s05, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.gear.profile import profile_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.exchange import exchange_ops, insert_ops
from wavilex.core.rig.model import Rig
from wavilex.library import starter_profiles


def through(r: Rig, uid: str = "main") -> list[str]:
    return [h.inp.device for h in run_result(Layer(r), r.runs[uid]).path]


def test_a_box_goes_into_a_lead_and_the_run_goes_through_it() -> None:
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-65s"), device("av", "ostavar-av940"),
        lead("A1", "console/hdmi", "tv/hdmi3"), run("main", "console", "tv", mode="3840x2160@60"),
    )  # fmt: skip
    after, back = apply(r, insert_ops(r, "plan", "A1", "av"))
    assert through(after) == ["av", "tv"]
    assert after.selected_input("plan", "av") is not None
    assert len(after.leads) == 2
    assert apply(after, back)[0] == r


def test_a_box_without_a_free_socket_is_refused_by_name() -> None:
    with pytest.raises(ChangeError, match="AV is at an end of lead A1 already"):
        insert_ops(s05(), "plan", "A1", "av")
    r, _ = apply(s05(), [device("bar", "brindlo-bar2")])
    with pytest.raises(ChangeError, match="has no free input and output"):
        insert_ops(r, "plan", "A1", "bar")


def test_another_screen_keeps_wants_titles_style_and_the_leads_sockets() -> None:
    said = [
        {"op": "add_title", "title": {"uid": "t1", "name": "Tide Racer"}},
        {"op": "set_style", "level": "job", "key": "motion", "value": "interpolate"},
        setting("tv", "hdmi3", "format", "basic", "found"),
    ]  # fmt: skip
    r, _ = apply(s05(), said)
    new = profile_data(starter_profiles()["yarrowby-77e"])
    after, back = apply(r, exchange_ops(r, "tv", new))
    assert after.devices["tv"].profile.id == "yarrowby-77e"
    assert (after.runs, after.titles, after.style) == (r.runs, r.titles, r.style)
    assert after.leads["A2"].plan[1] is not None
    assert after.leads["A2"].plan[1].port == "hdmi3"
    assert not [place for place in after.settings if place[0] == "tv"]
    assert apply(after, back)[0] == r


def test_a_screen_in_the_place_of_a_source_is_refused() -> None:
    with pytest.raises(ChangeError, match="needs PC as a source"):
        apply(s05(), exchange_ops(s05(), "pc", profile_data(starter_profiles()["yarrowby-65s"])))


@pytest.mark.parametrize("seed", range(12))
def test_any_box_of_any_rig_can_be_exchanged_for_another_of_its_role_and_back(seed: int) -> None:
    r = wide(seed)
    for box in r.devices.values():
        for other in [p for p in starter_profiles().values() if p.role == box.profile.role][seed % 3 :: 3]:
            after, back = apply(r, exchange_ops(r, box.uid, profile_data(other)))
            assert set(after.runs) == set(r.runs)
            assert apply(after, back)[0] == r
