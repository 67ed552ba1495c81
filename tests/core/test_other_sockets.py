"""DisplayPort, USB-C and DVI in a chain: adapters, streams, what a PC drives together, mirroring, from arrival on."""

from __future__ import annotations

from typing import Any

import pytest

from tests.rigs import device, rig, run, setting
from wavilex.core.advise.assign import assign
from wavilex.core.advise.connect import rank_inputs
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import sound_headline, sound_of
from wavilex.core.errors import ChangeError, ProfileError
from wavilex.core.gear.profile import profile_from_data
from wavilex.core.gear.vocabulary import gear_words
from wavilex.core.modes.run_refresh import kinds_shared, window_of
from wavilex.core.prove.line import YES
from wavilex.core.prove.rate import rate_proof
from wavilex.core.prove.readouts import readouts
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.tell.assignment import assignment_data
from wavilex.library.pierhead import demo_changes


def lead(uid: str, kind: str, grade: str, a: str, b: str, mm: int = 1000) -> dict[str, Any]:
    ends = [dict(zip(("device", "port"), end.split("/"), strict=True)) for end in (a, b)]
    row = {"uid": uid, "label": uid, "kind": kind, "grade": grade, "length_mm": mm, "found": ends, "plan": ends}
    return {"op": "add_lead", "lead": row}


def judged(r: Rig, uid: str = "r") -> RunResult:
    return run_result(Layer(r), r.runs[uid])


def said(r: Rig, uid: str = "r") -> list[str]:
    return [render(reason, r) for reason in judged(r, uid).reasons]


def through(adapter: str, screen: str, end: str, **want: Any) -> Rig:
    return rig(
        device("pc", "tindrel-r9"), device("ad", adapter), device("tv", screen),
        lead("L1", "dp", "dp8k", "pc/dp1", "ad/in", 200), lead("L2", "hdmi", "ultra", "ad/out", f"tv/{end}"),
        run("r", "pc", "tv", **want),
    )  # fmt: skip


def test_a_passive_adapter_stops_at_its_own_clock() -> None:
    """1440p144 needs 586.6 MHz; type 2 carries 300 (value from memory). The card's HDMI socket, past it, carries it."""
    r = through("tindrel-pa3", "kelpine-m27", "hdmi1", mode="2560x1440@144")
    assert judged(r).verdict == "blocked"
    assert any("AD, DisplayPort plug: it takes 9 Gb/s (300 MHz) at most" in s for s in said(r))
    way = find_fixes(r, r.runs["r"]).ways[0]
    assert way.moves[0].label.startswith("An HDMI lead from PC · HDMI out to TV · HDMI 1, past AD")
    assert judged(through("tindrel-pa3", "kelpine-m27", "hdmi1", mode="2560x1440@60")).good


def test_whether_a_socket_is_dual_mode_is_asked_where_it_matters() -> None:
    """A passive adapter lives on TMDS: from a USB-C socket without it nothing passes; of an unread one nobody knows."""
    r = through("tindrel-pa3", "kelpine-m27", "hdmi1", mode="1920x1080@60")
    none, _ = apply(r, [{"op": "set_fact", "device": "pc", "path": "ports.dp1.tmds_mhz", "value": 0,
                         "provenance": "measured_here"}])  # fmt: skip
    assert any("nothing passes into ad" in s.lower() for s in said(none))
    data = dict(device("pc", "tindrel-r9")["device"]["profile"])
    data["ports"] = [{**p, "video": {k: v for k, v in p.get("video", {}).items() if k != "tmds_mhz"}}
                     if p["id"] == "dp1" else p for p in data["ports"]]  # fmt: skip
    unread, _ = apply(r, [{"op": "set_profile", "device": "pc", "profile": data}])
    assert judged(unread).verdict == "unknown"
    assert any("dual-mode" in s for s in said(unread))


def test_a_passive_adapter_the_other_way_says_so() -> None:
    r = rig(
        device("pc", "tindrel-r7"), device("ad", "tindrel-pt"), device("tv", "kelpine-m28"),
        lead("L1", "hdmi", "ultra", "pc/hdmi", "ad/in"), lead("L2", "dp", "dp8k", "ad/out", "tv/dp"),
        run("r", "pc", "tv", mode="2560x1440@60"),
    )  # fmt: skip
    assert [x for x in said(r) if "never the other way" in x]
    with pytest.raises(ChangeError, match="adapter or converter between them is a box"):
        apply(r, [device("two", "tindrel-r7"), lead("L3", "hdmi", "ultra", "two/hdmi", "tv/dp")])


def test_an_active_converter_ends_compression_and_variable_refresh() -> None:
    """2160p120 at ten bits goes compressed to it and plain from it; it hands no window on (common practice)."""
    r = through("tindrel-ac40", "yarrowby-65s", "hdmi3", mode="3840x2160@120", hdr="static", bits=10)
    r, _ = apply(r, [setting("pc", "", "depth", "10"), setting("tv", "hdmi3", "format", "wide")])
    links = judged(r).links
    assert [x.wanted.transport for x in links] == ["dp", "frl"]
    assert links[0].wanted.verdict == "compressed"
    assert links[1].wanted.dsc is None
    assert window_of(Layer(r), judged(r)) is None


def test_variable_refresh_by_displayport_is_a_kind_of_its_own() -> None:
    r = rig(
        device("pc", "tindrel-r9"), device("tv", "kelpine-m28"), setting("pc", "", "vrr", "on"),
        lead("L1", "dp", "dp8k", "pc/dp1", "tv/dp"), run("r", "pc", "tv", mode="2560x1440@144", vrr=True),
    )  # fmt: skip
    assert judged(r).good
    assert kinds_shared(judged(r)) == ("dp",)
    assert window_of(Layer(r), judged(r)) == (48, 144)


def test_nobody_is_asked_for_what_a_kind_of_socket_has_none_of() -> None:
    """DVI has neither HDR nor sound nor FRL (DVI 1.0); lanes are no part of HDMI, FRL none of DisplayPort."""
    kinds = {k["id"]: k for k in gear_words()["port_kinds"]}
    assert [k for k, v in kinds.items() if v["digital"]] == ["hdmi", "dp", "usbc", "dvi"]
    assert kinds["hdmi"]["without"] == ["dp"]
    assert {"frl", "hdr", "vrr", "dp", "low_latency"} <= set(kinds["dvi"]["without"])
    for kind in ("dp", "usbc"):
        assert "frl" in kinds[kind]["without"]
        assert not {"dp", "hdr", "vrr", "modes", "encodings", "dsc", "hdcp"} & set(kinds[kind]["without"])


def test_the_best_places_tell_a_new_lead_as_a_change_of_its_run() -> None:
    """At an HDMI input that takes no 144 Hz; the lead that gives it goes to another socket of the same screen."""
    r = rig(
        device("pc", "tindrel-r9"), device("tv", "kelpine-m28"), lead("L1", "hdmi", "ultra", "pc/hdmi", "tv/hdmi1"),
        run("r", "pc", "tv", mode="3840x2160@144"),
    )  # fmt: skip
    found = assign(r)
    assert [uid for uid, _ in found.more] == ["r"]
    row = assignment_data(r, found)["places"][0]
    assert (row["input"], row["now"], row["moved"], row["good"]) == ("TV · DisplayPort", "TV · HDMI", True, True)
    assert any(s["text"].startswith("A DisplayPort lead from PC") for s in row["settings"])


def test_another_box_is_asked_for_in_lanes_where_the_socket_is_displayport() -> None:
    r = rig(
        device("pc", "tindrel-r9"), device("tv", "kelpine-m26"), lead("L1", "dp", "dp8k", "pc/dp1", "tv/dp"),
        run("r", "pc", "tv", mode="2560x1440@144", chroma="444"),
    )  # fmt: skip
    needs = find_fixes(r, r.runs["r"]).needs
    # 1440p144 at 24 bits asks 14.08 Gb/s with the second reduced blanking: more than 4 × 2.7, less than 4 × 5.4 Gb/s
    assert needs.endswith("Another monitor needs at least 1440p144, a link of 4 × HBR2."), needs


def test_three_in_a_chain_say_both_what_the_link_and_what_the_source_bear() -> None:
    chain = [lead(f"L{n}", "dp", "dp8k", f"{a}/{'dp' if a == 'pc' else 'out'}", f"m{n}/dp")
             for n, a in ((1, "pc"), (2, "m1"), (3, "m2"))]  # fmt: skip
    r = rig(
        device("pc", "tindrel-pc7"), *(device(f"m{n}", "kelpine-m26") for n in (1, 2, 3)), *chain,
        *(run(f"r{n}", "pc", f"m{n}", mode="2560x1440@60") for n in (1, 2, 3)),
    )  # fmt: skip
    needs = find_fixes(r, r.runs["r1"]).needs
    assert "several streams" in needs
    assert needs.endswith("PC drives 2 displays at once, and 3 hang on it: which stays dark nobody knows.")


def test_a_charging_lead_carries_no_picture() -> None:
    r = rig(
        device("pc", "brindlo-lt"), device("tv", "kelpine-m28"), setting("pc", "", "mirror", "off"),
        lead("L1", "usbc", "c_usb2", "pc/usbc1", "tv/usbc"), run("r", "pc", "tv", mode="3840x2160@60", chroma="444"),
    )  # fmt: skip
    assert said(r) == ["No picture passes lead L1: a lead for USB 2 and charging has no lanes for it."]
    better, _ = apply(r, [{"op": "replace_lead", "lead": "L1", "grade": "c_20"}])
    assert judged(better).verdict == "fits"  # two lanes beside fast data: 98.8 %
    assert judged(better).links[0].wanted.used_percent == pytest.approx(98.75)


def test_dvi_carries_no_sound_and_says_who_is_silent() -> None:
    r = rig(
        device("pc", "tindrel-pc7"), device("tv", "kelpine-m22"),
        lead("L1", "dvi", "dvi_dual", "pc/dvi", "tv/dvi"), run("r", "pc", "tv", mode="1920x1080@60"),
    )  # fmt: skip
    result = judged(r)
    assert result.verdict == "fits"
    assert result.asked is not None
    assert (result.asked.encoding, result.asked.bits, result.asked.audio) == ("rgb", 8, "none")
    assert sound_headline(r, sound_of(Layer(r), result)).startswith("Silent")


def test_two_of_a_chain_fit_and_three_do_not() -> None:
    """Two 1440p60 on 5.4 Gb/s lanes (common practice); three take 66 of 63 slots."""
    boxes = [device("pc", "tindrel-pc7"), *(device(f"m{n}", "kelpine-m26") for n in (1, 2, 3))]
    leads = [lead("L1", "dp", "dp8k", "pc/dp", "m1/dp"), lead("L2", "dp", "dp8k", "m1/out", "m2/dp")]
    runs = [run(f"r{n}", "pc", f"m{n}", mode="2560x1440@60") for n in (1, 2)]
    two = rig(*boxes, *leads, *runs)
    assert {judged(two, u).verdict for u in two.runs} == {"fits"}
    first = judged(two, "r1").links[0].wanted.dp
    assert first is not None
    assert (first.slots, first.taken) == (22, 22)
    three, _ = apply(two, [lead("L3", "dp", "dp8k", "m2/out", "m3/dp"), run("r3", "pc", "m3", mode="2560x1440@60")])
    assert {judged(three, u).verdict for u in three.runs} == {"blocked"}
    assert any("the others take about 44 of its 63 time slots" in s for s in said(three, "r3"))
    assert any("drives 2 displays at once, and 3 hang on it" in s for s in said(three, "r1"))


def test_mirrored_displays_take_what_both_take() -> None:
    """As found the laptop mirrors: 4K on the one is not to be had while the other knows 1080p alone."""
    r = rig(
        device("pc", "brindlo-lt"), device("tv", "kelpine-m28"), device("old", "kelpine-m22"),
        lead("L1", "usbc", "c_20", "pc/usbc1", "tv/usbc"), lead("L2", "hdmi", "high_speed", "pc/hdmi", "old/hdmi1"),
        run("r", "pc", "tv", mode="3840x2160@60", chroma="444"), run("o", "pc", "old", mode="1920x1080@60"),
    )  # fmt: skip
    assert any("OLD, HDMI does not list 2160p60" in s and "reads the same offer" in s for s in said(r))
    ways = find_fixes(r, r.runs["r"]).ways
    assert ways[0].label == "PC: Displays → extended"
    assert judged(apply(r, ways[0].ops)[0]).verdict == "fits"


def test_the_demo_from_arrival_to_its_end_by_one_way() -> None:
    """The Side PC hangs in the card's slow socket, at eight bits, variable refresh off; three acts, one way."""
    r, _ = apply(Rig(title="demo"), demo_changes())
    assert {u: judged(r, u).verdict for u in ("side", "score", "board")} == {
        "side": "blocked", "score": "unknown", "board": "unknown",
    }  # fmt: skip
    found = find_fixes(r, r.runs["side"])
    labels = [m.label for m in found.ways[0].moves]
    assert labels[0].startswith("A DisplayPort lead from Side PC · DisplayPort 1 to Side monitor · DisplayPort")
    assert labels[1:] == ["Side PC: Depth in the driver → 10 bits", "Side PC: Variable refresh → on"]
    after, back = apply(r, found.ways[0].ops)
    assert {u: judged(after, u).verdict for u in ("side", "score", "board")} == {
        "side": "compressed", "score": "fits", "board": "tight",
    }  # fmt: skip
    assert apply(after, back)[0] == r


def test_the_pcs_page_tells_the_link() -> None:
    r = rig(
        device("pc", "tindrel-r9"), device("tv", "kelpine-m28"), setting("pc", "", "depth", "10"),
        lead("L1", "dp", "dp8k", "pc/dp1", "tv/dp"),
        run("r", "pc", "tv", mode="3840x2160@144", chroma="444", bits=10, hdr="static"),
    )  # fmt: skip
    page = next(c for c in readouts(Layer(r), r.runs["r"]) if c.kind == "page")
    says = {x.key: x.says for x in page.lines}
    assert (says["connection"], says["link"], says["compressed"]) == ("DisplayPort", "4 lanes, 8.1 Gb/s each", YES)
    behind = through("tindrel-pa3", "kelpine-m27", "hdmi1", mode="1920x1080@60")
    page = next(c for c in readouts(Layer(behind), behind.runs["r"]) if c.kind == "page")
    assert next(x.says for x in page.lines if x.key == "connection") == "HDMI, by an adapter"


def test_a_rate_is_proved_by_lanes() -> None:
    """Modes to try on a link of lanes need lane rates, and what held is noted so."""
    r = rig(
        device("pc", "tindrel-pc7"), device("tv", "kelpine-m26"),
        lead("L1", "dp", "dp8k", "pc/dp", "tv/dp"), run("r", "pc", "tv", mode="2560x1440@60"),
    )  # fmt: skip
    proof = rate_proof(Layer(r), judged(r), {})
    assert [t.over for t in proof.tests] == ["dp:4xrbr", "dp:4xhbr"]
    failed, _ = apply(r, [{"op": "replace_lead", "lead": "L1", "failed": "dp:4xhbr"}])
    assert judged(failed).verdict == "blocked"
    with pytest.raises(ChangeError, match="keep one of the two"):
        apply(failed, [{"op": "replace_lead", "lead": "L1", "proved": "dp:4xhbr2"}])


def test_a_second_display_is_a_run_of_its_own() -> None:
    """A computer's other output to another screen: what it shows there is wanted, too; of a console nothing is made."""
    first = [device("pc", "tindrel-r9"), device("tv", "kelpine-m28"), device("old", "kelpine-m22"),
             lead("L1", "dp", "dp8k", "pc/dp1", "tv/dp"), run("r", "pc", "tv", mode="2560x1440@144")]  # fmt: skip
    option = next(o for o in rank_inputs(rig(*first), Socket("pc", "hdmi")) if o.socket.device == "old")
    after, _ = apply(rig(*first), list(option.ops))
    assert {(x.source, x.sink) for x in after.runs.values()} == {("pc", "tv"), ("pc", "old")}
    assert judged(after, "run-pc-old").good


def test_inputs_are_ranked_by_what_a_lead_joins() -> None:
    """From a USB-C socket: USB-C and DisplayPort inputs; from DisplayPort its own alone."""
    r = rig(device("pc", "tindrel-r9"), device("tv", "kelpine-m28"))
    assert {o.socket.port for o in rank_inputs(r, Socket("pc", "usbc"))} == {"usbc", "dp"}
    assert {o.socket.port for o in rank_inputs(r, Socket("pc", "dp1"))} == {"dp"}
    best = rank_inputs(r, Socket("pc", "usbc"))[0]
    assert best.socket.port == "dp"  # four lanes: the USB-C input has two beside fast data
    assert apply(r, list(best.ops))[0].leads


def test_what_no_hdmi_socket_can_declare_is_refused_for_the_whole_box_too() -> None:
    """24 slices are DisplayPort's; of all sockets they can be said only where HDMI has its own word."""
    data = dict(device("tv", "kelpine-m28")["device"]["profile"])
    data["video"] = {**data["video"], "dsc": {"slices": 24, "slice_mhz": 340}}
    assert profile_from_data(data)
    ports = [{**p, "video": {k: v for k, v in p.get("video", {}).items() if k != "dsc"}} for p in data["ports"]]
    with pytest.raises(ProfileError, match="no HDMI socket can declare 24 slices"):
        profile_from_data({**data, "ports": ports})
