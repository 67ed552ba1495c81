"""Gear by template, as text, corrected in a job; the rig as drawing and schedule."""

from __future__ import annotations

import csv
import io
import itertools
import re
import xml.etree.ElementTree as ET

import pytest

from tests.rigs import device, lead, rig, run, s03, s14, setting
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.gear.profile import Profile, parse_profile, profile_data
from wavilex.core.gear.text import profile_text
from wavilex.core.rig.changes import apply
from wavilex.core.tell.drawing import columns, dot, schedule, schedule_csv, svg
from wavilex.core.tell.view import job_view
from wavilex.library import starter_profiles


@pytest.mark.parametrize("profile", starter_profiles().values(), ids=lambda p: p.id)
def test_a_profile_written_as_text_reads_back_the_same(profile: Profile) -> None:
    assert parse_profile(profile_text(profile)) == profile


def test_a_profile_is_corrected_without_losing_what_hangs_on_it() -> None:
    r = s03()
    data = profile_data(r.devices["tv"].profile)
    data["video"]["vrr"] = [48, 60]
    after, back = apply(r, [{"op": "set_profile", "device": "tv", "profile": data}])
    assert after.devices["tv"].profile.video.vrr == (48, 60)
    assert after.leads == r.leads
    assert apply(after, back)[0] == r


@pytest.mark.parametrize(
    ("other", "word"),
    [("brindlo-24b", "plugged into HDMI 2"), ("yarrowby-65s", None), ("kelpine-k1", "plugged into"),
     ("yarrowby-55h", "has format noted")],
)  # fmt: skip
def test_a_profile_that_lacks_what_is_used_is_refused_with_the_reason(other: str, word: str | None) -> None:
    change = {"op": "set_profile", "device": "tv", "profile": profile_data(starter_profiles()[other])}
    if word is None:
        apply(s03(), [change])
        return
    with pytest.raises(ChangeError, match=word):
        apply(s03(), [change])


def test_greyed_out_settings_say_what_frees_them() -> None:
    r = rig(device("tv", "yarrowby-77e"), setting("tv", "", "black_frames", "on"))
    view = job_view(Layer(r))
    rows = {(s["key"], s["scope"]): s for s in view["devices"][0]["settings"]}
    frames = rows["black_frames", ""]
    assert (frames["value"], frames["really"]) == ("on", "off")
    assert any("not while Variable refresh at on" in b["because"] for b in frames["barred"])


def test_the_drawing_is_well_formed_and_holds_every_box_and_lead() -> None:
    layer = Layer(s14())
    root = ET.fromstring(svg(layer))
    texts = [t.text or "" for t in root.iter("{http://www.w3.org/2000/svg}text")]
    assert {"K1", "TV", "BAR"} <= set(texts)
    assert sum(t.startswith(("A1", "A2", "A3", "A4", "S1")) for t in texts) == 5


def test_boxes_of_the_drawing_do_not_overlap() -> None:
    root = ET.fromstring(svg(Layer(s14())))
    rects = [
        tuple(float(r.get(k, "0")) for k in ("x", "y", "width", "height"))
        for r in root.iter("{http://www.w3.org/2000/svg}rect")
    ][1:]
    for (x, y, w, h), (x2, y2, w2, h2) in itertools.combinations(rects, 2):
        assert x + w <= x2 or x2 + w2 <= x or y + h <= y2 or y2 + h2 <= y


def test_columns_go_from_sources_to_screens() -> None:
    r = rig(
        device("pc", "tindrel-r7"), device("s", "brindlo-s4"), device("av", "ostavar-av940"),
        device("tv", "yarrowby-65s"), lead("A1", "pc/hdmi", "s/in1"), lead("A2", "s/out", "av/game"),
        lead("A3", "av/out", "tv/hdmi3"),
    )  # fmt: skip
    assert columns(Layer(r)) == {"pc": 0, "s": 1, "av": 2, "tv": 3}


def test_dot_names_sockets_and_leads() -> None:
    text = dot(Layer(s03()))
    assert text.count("->") == 2
    assert '"base":"hdmi" -> "tv":"hdmi2" [label="A1: High Speed, 2 m"' in text
    assert text.count("{") == text.count("}")


def test_dot_escapes_what_would_end_a_label() -> None:
    r, _ = apply(s03(), [{"op": "set_device", "device": "tv", "label": 'He said "4K" {now} | <here>'}])
    line = next(x for x in dot(Layer(r)).split("\n") if x.startswith('  "tv"'))
    body = re.search(r'label="(.*)"\];$', line)
    assert body is not None
    assert not re.search(r'(?<!\\)"', body[1])


def test_the_schedule_has_a_label_for_each_end() -> None:
    rows = schedule(Layer(s03()))
    assert rows[0]["label_from"] == "A1 → TV · HDMI 2"
    assert rows[0]["label_to"] == "A1 ← BASE · HDMI out"
    read = list(csv.DictReader(io.StringIO(schedule_csv(Layer(s03())))))
    assert [r["lead"] for r in read] == ["A1", "A2"]
    assert read[0]["length_m"] == "2"


def test_the_schedule_runs_nothing_in_a_spreadsheet() -> None:
    r, _ = apply(s03(), [{"op": "replace_lead", "lead": "A1", "label": "=1+1"}])
    assert next(csv.DictReader(io.StringIO(schedule_csv(Layer(r)))))["lead"] == "'=1+1"


def test_a_run_by_analogue_lead_is_judged_by_its_scan_rate() -> None:
    change = lead("V1", "c16/scart", "tv/scart")
    change["lead"] |= {"kind": "analogue"}
    change["lead"].pop("grade")
    r = rig(device("c16", "brindlo-c16"), device("tv", "ostavar-43p"), change, run("x", "c16", "tv", mode="640x480@60"))
    row = job_view(Layer(r))["runs"][0]
    assert row["verdict"] == "tight"
    assert "takes 262 lines, 15.73 kHz, 60.05 Hz for interlaced" in row["headline"]
    assert row["links"][0]["ceiling_short"] == "15.73 kHz, 60.05 Hz"
