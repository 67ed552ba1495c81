"""The workshop's shelf over the API: across jobs, with versions, packs, what was learned; kept apart by account."""

from __future__ import annotations

import base64
import io
import zipfile
from collections.abc import Callable
from typing import Any

import pytest

from tests.conftest import Api
from tests.server.test_rig import change
from wavilex.core.gear.pack import FactRow, Packed, read_pack, write_pack
from wavilex.core.gear.profile import profile_data
from wavilex.library import starter_profiles
from wavilex.server.shelf.health import shelf_faults
from wavilex.server.shelf.models import Box, Version

SCREEN = profile_data(starter_profiles()["yarrowby-65s"])


def mine(**more: Any) -> dict[str, Any]:
    return {**SCREEN, "id": "own-one", "maker": "Tindrel", "model": "Own One", **more}


def add(uid: str, data: dict[str, Any]) -> dict[str, Any]:
    return {"op": "add_device", "device": {"uid": uid, "label": uid, "profile": data}}


def test_a_box_of_one_job_is_there_in_the_next(api: Api) -> None:
    kept = api.post("/shelf", {"data": mine(), "note": "the long way round"})
    assert (kept["version"], kept["own"], kept["versions"][0]["note"]) == (1, True, "the long way round")
    rows = api.get("/shelf")
    assert rows[0]["uid"] == kept["uid"]  # one's own come first
    assert not rows[-1]["own"]
    job = api.post("/jobs", {"title": "Another"}, expect=201)["uid"]
    api.post(f"/jobs/{job}/changes", change(0, add("tv", api.get(f"/shelf/{kept['uid']}")["data"])))
    assert [u["version"] for u in api.get(f"/shelf/{kept['uid']}")["used_in"]] == [1]


@pytest.mark.parametrize(
    ("search", "found"),
    [("own one", True), ("TINDREL", True), ("television 4k120", True), ("earc 48 gb/s", False),
     ("picture presets", True), ("15 khz", False), ("receiver", False)],
)  # fmt: skip
def test_it_is_found_by_kind_maker_words_and_what_it_can_do(api: Api, search: str, found: bool) -> None:
    api.post("/shelf", {"data": mine()})
    own = [r["name"] for r in api.get(f"/shelf?search={search}&starters=false")]
    assert own == (["Tindrel Own One"] if found else [])


def test_versions_stand_beside_each_other_and_a_job_keeps_its_own(api: Api) -> None:
    first = api.post("/shelf", {"data": mine()})
    job = api.post("/jobs", {"title": "Planned before"}, expect=201)["uid"]
    api.post(f"/jobs/{job}/changes", change(0, add("tv", mine())))
    same = api.post("/shelf", {"data": mine()})
    assert same["version"] == 1  # alike is no version
    second = api.post("/shelf", {"data": mine(peak_cd_m2=777), "uid": first["uid"]})
    assert (second["uid"], second["version"]) == (first["uid"], 2)
    told = {d["part"]: (d["before"], d["after"]) for d in second["versions"][0]["differs"]}
    assert told["brightest white, cd/m²"][1] == "777"
    (here,) = api.get(f"/jobs/{job}/shelf")
    assert (here["state"], here["version"], here["newest"]) == ("older", 1, 2)
    ops = api.get(f"/jobs/{job}/devices/tv/renew/{first['uid']}")["ops"]
    api.post(f"/jobs/{job}/changes", change(1, *ops))
    assert api.get(f"/jobs/{job}/shelf")[0]["state"] == "same"
    api.post(f"/jobs/{job}/changes", change(2, {"op": "set_profile", "device": "tv", "profile": mine(peak_cd_m2=5)}))
    assert api.get(f"/jobs/{job}/shelf")[0]["state"] == "changed"


def test_two_boxes_of_one_name_are_one_and_another_may_not_take_it(api: Api) -> None:
    first = api.post("/shelf", {"data": mine()})
    again = api.post("/shelf", {"data": mine(summary="as seen now")})
    assert (again["uid"], again["version"]) == (first["uid"], 2)
    other = api.post("/shelf", {"data": mine(id="own-two", model="Own Two")})
    refused = api.post("/shelf", {"data": mine(), "uid": other["uid"]}, expect=409)
    assert refused["code"] == "name_taken"
    assert api.post("/shelf", {"data": {"id": "x"}}, expect=422)["code"] == "profile_invalid"
    assert api.get("/shelf/nobody", expect=404)["code"] == "not_on_the_shelf"


def test_put_away_and_back(api: Api) -> None:
    uid = api.post("/shelf", {"data": mine()})["uid"]
    api.post(f"/shelf/{uid}/away", {"away": True})
    assert not [r for r in api.get("/shelf") if r["own"]]
    assert [r["uid"] for r in api.get("/shelf?away=true")] == [uid]
    api.post(f"/shelf/{uid}/away", {"away": False})
    assert api.get("/shelf")[0]["uid"] == uid


def test_what_a_job_learned_is_reviewed_line_by_line(api: Api, demo: str) -> None:
    facts = [
        {"op": "set_fact", "device": "den-screen", "path": "peak_cd_m2", "value": 640},
        {"op": "set_fact", "device": "den-screen", "path": "tried.hdmi1.5x_matched", "value": False},
        {"op": "set_device", "device": "den-screen", "firmware": "2.4"},
    ]
    api.post(f"/jobs/{demo}/changes", change(1, *facts))
    here = next(r for r in api.get(f"/jobs/{demo}/shelf") if r["device"] == "den-screen")
    assert here["state"] == "none"
    assert {x["path"] for x in here["learned"]} == {"peak_cd_m2", "tried.hdmi1.5x_matched"}
    entry = api.post(f"/jobs/{demo}/devices/den-screen/shelf", {"paths": ["tried.hdmi1.5x_matched"]})
    (fact,) = entry["facts"]
    assert (fact["path"], fact["value"], fact["firmware"]) == ("tried.hdmi1.5x_matched", False, "2.4")
    assert fact["at"]
    here = next(r for r in api.get(f"/jobs/{demo}/shelf") if r["device"] == "den-screen")
    assert (here["state"], [x["path"] for x in here["learned"]]) == ("same", ["peak_cd_m2"])
    refused = api.post(f"/jobs/{demo}/devices/den-screen/shelf", {"paths": ["plays"]}, expect=422)
    assert refused["code"] == "nothing_learned"
    gone = api.post(f"/shelf/{entry['uid']}/forget", {"path": "tried.hdmi1.5x_matched"})
    assert gone["facts"] == []


def test_a_pack_goes_out_and_comes_in_all_of_it_or_nothing(api: Api) -> None:
    uid = api.post("/shelf", {"data": mine()})["uid"]
    data = api.client.get(f"/api/v1/shelf/pack.zip?uids={uid}").content
    assert [b.profile.name for b in read_pack(data)] == ["Tindrel Own One"]
    boxes = [Packed(starter_profiles()[n]) for n in ("tindrel-s2", "kelpine-k1")]
    told = api.post("/shelf/pack", {"zip": base64.b64encode(write_pack(boxes)).decode()})
    assert (len(told["added"]), told["renewed"], told["alike"]) == (2, [], [])
    again = api.post("/shelf/pack", {"zip": base64.b64encode(write_pack(boxes)).decode()})
    assert (again["added"], len(again["alike"])) == ([], 2)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("../../evil.yaml", "x")
    before = len(api.get("/shelf"))
    strays = [Packed(starter_profiles()["tindrel-b9"], (FactRow(path="lag.x", value="quick"),))]
    told_why = api.post("/shelf/pack", {"zip": base64.b64encode(write_pack(strays)).decode()}, expect=422)["detail"]
    assert "lag.x" in told_why
    refused = api.post("/shelf/pack", {"zip": base64.b64encode(out.getvalue()).decode()}, expect=422)
    assert refused["code"] == "pack_invalid"
    assert api.post("/shelf/pack", {"zip": "not base64!"}, expect=422)["code"] == "pack_invalid"
    assert len(api.get("/shelf")) == before


def test_what_was_measured_and_what_came_back_is_learned(api: Api, demo: str) -> None:
    session = api.post(f"/jobs/{demo}/lag", {"device": "den-screen", "conditions": ["game", "film"]})["uid"]
    api.post(f"/lag/{session}/warning")
    for n in range(6):
        row = {"condition": "game", "lag_ms": 15 + n / 1000}
        api.post(f"/lag/{session}/readings", {**row, "uid": f"reading-{n:04}"}, expect=201)
    off = {"op": "set_setting", "layer": "plan", "device": "den-console", "key": "fast_refresh", "value": "off"}
    api.post(f"/jobs/{demo}/changes", change(1, off))
    title = "Den console: 120 Hz output → not allowed"
    steps = [s for p in api.get(f"/jobs/{demo}/runsheet")["phases"] for s in p["steps"]]
    key = next(s["key"] for s in steps if s["title"] == title)
    api.post(
        f"/jobs/{demo}/ticks",
        {"uid": "tick-came-back", "key": key, "state": "reverted", "said_at": "2026-11-29T10:00:00Z"},
    )
    here = {r["device"]: [x["words"] for x in r["learned"]] for r in api.get(f"/jobs/{demo}/shelf")}
    assert any(w.startswith("lag 15.0 ms in game") for w in here["den-screen"])
    assert any("it reverted" in w for w in here["den-console"])


def test_the_check_of_the_data_looks_at_the_shelf(api: Api) -> None:
    box = Box.objects.get(uid=api.post("/shelf", {"data": mine()})["uid"])
    assert list(shelf_faults()) == []
    box.facts = [{"path": "ports.gone.frl", "value": "4x8"}]
    box.save()
    ((where, fault),) = shelf_faults()
    assert where == f"shelf box {box.uid}"
    assert "ports.gone.frl" in fault
    Version.objects.filter(box=box).update(digest="0" * 16, number=2)
    assert len(list(shelf_faults())) == 3
    Version.objects.filter(box=box).update(profile={"id": "x"})
    assert any("does not read" in fault for _, fault in shelf_faults())


def test_a_viewer_reads_the_shelf_and_changes_nothing(api: Api, make_api: Callable[[str], Api]) -> None:
    viewer = make_api("viewer")
    uid = api.post("/shelf", {"data": mine()})["uid"]
    assert viewer.get("/shelf")[0]["uid"] == uid
    for path, body in (
        ("/shelf", {"data": mine()}),
        (f"/shelf/{uid}/away", {"away": True}),
        ("/shelf/pack", {"zip": ""}),
    ):
        assert viewer.post(path, body, expect=403)["code"] == "viewer"
