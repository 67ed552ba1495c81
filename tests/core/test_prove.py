"""Read-outs against boxes simulated by a table, faults planted in them, and the scenarios from arrival to the end."""

from __future__ import annotations

from itertools import product
from typing import Any

import pytest

from tests.arrivals import s02_arrival, s04_arrival, s10_arrival
from tests.core.simulated_chain import Truth, rig_of, truth
from tests.rigs import device, lead, rig, run, s01, s05, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.prove.arrival import arrival
from wavilex.core.prove.belief import proofs_of
from wavilex.core.prove.differ import said_lines
from wavilex.core.prove.grounds import grounds_of
from wavilex.core.prove.line import line_key
from wavilex.core.prove.rate import FELL, HELD, failed_ops, line_of, rate_proof, rate_tests
from wavilex.core.prove.readouts import readouts
from wavilex.core.prove.told import prove_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.grounds import changed_since
from wavilex.core.rig.model import Observation, Rig
from wavilex.core.runsheet.stages import END, layer_at, stages

PORTS = {"source": "out", "receiver": "a", "screen": "in1"}


def said(r: Rig, layer: str = "found", run_uid: str = "main") -> dict[str, str | None]:
    """Lines by box, place and name, without sockets."""
    cards = readouts(Layer(r, layer), r.runs[run_uid])  # type: ignore[arg-type]
    return {f"{c.device}/{c.kind}/{x.key}": x.says for c in cards for x in c.lines}


def saw(r: Rig, seen: dict[str, str]) -> dict[str, Observation]:
    """Observations of lines that stand on the cards of a rig: what was read there."""
    out = {}
    for c in readouts(Layer(r, "found"), r.runs["main"]):
        for x in c.lines:
            shown = seen.get(f"{c.device}/{c.kind}/{x.key}")
            if shown is not None:
                key = line_key(c, x)
                answer: Any = "seen" if x.says is None else "as_predicted" if shown == x.says else "differs"
                out[key] = Observation(key, "main", c.device, key, "", x.label, answer, x.says, shown, "2026-11-29")
    return out


@pytest.mark.parametrize("seed", range(100))
def test_boxes_show_what_is_predicted(seed: int) -> None:
    """Reference: boxes simulated by a table of least links (tests/core/simulated_chain.py)."""
    t = truth(seed)
    predicted = said(rig_of(t, {}))
    for line, shown in t.shows().items():
        assert predicted[line] == shown, (line, t)
    if t.playing() is None:
        assert predicted["screen/banner/mode"] in (None, "no picture") or not certain(t, "screen/banner/mode")


def certain(t: Truth, line: str) -> bool:
    r = rig_of(t, {})
    cards = readouts(Layer(r, "found"), r.runs["main"])
    return next(x.sure for c in cards for x in c.lines if f"{c.device}/{c.kind}/{x.key}" == line)


# S02: on basic the list says why HDR is missing; after the step on the input it is there; 120 and the rest never.
def test_s02_list_before_and_after_its_step() -> None:
    r = s02_arrival()
    before = said(r)
    assert before["console/list/mode.3840x2160@60"] == "yes"
    assert before["console/list/hdr.3840x2160@60"] == "no"
    assert before["tv/banner/hdr"] == "no"
    after = apply(r, [setting("tv", "hdmi1", "format", "wide", "found")])[0]
    now = said(after)
    assert now["console/list/hdr.3840x2160@60"] == "yes"
    for line in ("mode.3840x2160@120", "vrr", "low_latency"):
        assert now[f"console/list/{line}"] == "no"


# S04: a title goes to 4K60; its own label counts what is rendered, and says so.
def test_s04_the_label_is_not_to_be_trusted() -> None:
    r = s04_arrival()
    cards = readouts(Layer(r, "plan"), r.runs["main"])
    label = next(c for c in cards if c.kind == "label")
    assert label.trust == "renders"
    assert said(r, "plan")["monitor/banner/mode"] == "2160p60"


# S05: read-outs at PC, receiver, screen; 8-bit until the driver step (made-up PC with a depth of its own).
def test_s05_read_outs_at_every_stage() -> None:
    r = s05()
    shown = said(r, "plan")
    assert (shown["pc/page/bits"], shown["av/in_out/in.colour"]) == ("10-bit", "RGB, 10-bit")
    assert shown["av/in_out/out.mode"] == shown["tv/banner/mode"] == "2160p120"
    eight = apply(r, [{"op": "set_want", "run": "main", "key": "hdr", "value": "off"},
                      {"op": "set_want", "run": "main", "key": "bits", "value": 8}])[0]  # fmt: skip
    assert said(eight, "plan")["pc/page/bits"] == "8-bit"


# S10: asking 120 Hz before the port is open silently costs resolution: the banner is predicted to say so.
def test_s10_120_before_the_port_is_open() -> None:
    r = s10_arrival()
    assert said(r)["tv/banner/mode"] == "2160p60"
    asked = apply(r, [setting("console", "", "fast_refresh", "on", "found")])[0]
    assert said(asked)["tv/banner/mode"] == "1440p120"  # what the 18 Gb/s socket carries
    moved = {"op": "move_lead", "layer": "found", "lead": "A1", "end": "b", "to": {"device": "tv", "port": "hdmi3"}}
    closed = apply(asked, [moved])[0]  # a fast socket, not opened
    assert (said(closed)["tv/banner/mode"], said(closed)["tv/banner/hdr"]) == ("1080p120", "no")
    assert said(closed)["console/list/mode.3840x2160@120"] == "no"


# S11: one list after each step: bare 4K, then the full list.
def test_s11_the_list_grows_step_by_step() -> None:
    r = s11()
    first = said(r)
    assert first["console/list/mode.3840x2160@60"] == "yes"
    assert [first[f"console/list/{x}"] for x in ("mode.3840x2160@120", "hdr.3840x2160@60", "vrr")] == ["no"] * 3
    allowed = apply(r, [setting("console", "", "fast_refresh", "on", "found")])[0]
    assert said(allowed)["console/list/mode.3840x2160@120"] == "no"  # the port is not open
    opened = apply(allowed, [setting("tv", "hdmi3", "format", "wide", "found")])[0]
    full = said(opened)
    assert [full[f"console/list/{x}"] for x in ("mode.3840x2160@120", "hdr.3840x2160@60", "vrr")] == ["yes"] * 3


def s11() -> Rig:
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("A1", "console/hdmi", "tv/hdmi3"),
        setting("console", "", "fast_refresh", "off", "found"), setting("tv", "hdmi3", "format", "basic", "found"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static", bits=10, vrr=True),
    )  # fmt: skip


def test_each_stage_reads_as_its_steps_make_it() -> None:
    r = apply(s11(), [setting("console", "", "fast_refresh", "on"), setting("tv", "hdmi3", "format", "wide")])[0]
    told = stages(r, r.runs["main"])
    keys = [s["key"] for s in told]
    assert len(keys) == len(set(keys)) >= 4
    lists = [said(layer_at(Layer(r, "found"), k).rig)["console/list/mode.3840x2160@120"] for k in keys[:-1]]
    assert lists[0] == "no"
    assert lists[-1] == "yes"


# S01: the converter's notice names the line system it reads and the mode it makes.
def test_s01_the_converters_notice() -> None:
    r = s01()
    notice = {x.key: x.says for c in readouts(Layer(r, "plan"), next(iter(r.runs.values()))) if c.kind == "notice"
              for x in c.lines}  # fmt: skip
    assert notice == {"system": "288p50", "out": "720p60"}, "as it comes from its maker"


def test_what_is_not_known_is_not_predicted() -> None:
    r = rig(device("console", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("A1", "console/hdmi", "tv/hdmi3"),
            run("main", "console", "tv", mode="3840x2160@120"))  # fmt: skip
    shown = said(r)
    assert shown["console/list/mode.3840x2160@120"] is None
    assert shown["tv/banner/game"] is None


# --- the rate of a path (S19)


def s19(screen_frl: str = "4x12") -> Rig:
    r = rig(device("pc", "tindrel-r7"), device("tv", "yarrowby-65s"), lead("A1", "pc/hdmi", "tv/hdmi3"),
            setting("tv", "hdmi3", "format", "wide", "found"),
            run("main", "pc", "tv", mode="3840x2160@120", chroma="444", bits=10))  # fmt: skip
    return apply(r, [{"op": "set_fact", "device": "tv", "path": "ports.hdmi3.frl", "value": screen_frl}])[0]


def depth_at_worst(n: int) -> int:
    """The fewest questions that tell apart n + 1 answers in order, by trying every tree (no halving rule)."""
    best = [0] * (n + 1)
    for size in range(1, n + 1):
        best[size] = 1 + min(max(best[k], best[size - 1 - k]) for k in range(size))
    return best[n]


def test_the_sequence_is_the_shortest_at_worst() -> None:
    """Reference: dynamic programming over every order of tests."""
    r = s19()
    layer = Layer(r, "found")
    result = run_result(layer, r.runs["main"])
    rates = [t.over for t in rate_tests(layer, result)]
    worst = 0
    for real in range(len(rates) + 1):  # the path carries the first `real` of them
        outcomes: dict[str, str] = {}
        while (ask := rate_proof(layer, result, outcomes).next) is not None:
            outcomes[ask.over] = HELD if rates.index(ask.over) < real else FELL
        worst = max(worst, len(outcomes))
        proof = rate_proof(layer, result, outcomes)
        assert proof.determined
        assert proof.lowest == (rates[real - 1] if real else None)
        assert proof.below == (rates[real] if real < len(rates) else None)
    assert worst == depth_at_worst(len(rates)) == rate_proof(layer, result, {}).at_most


def test_40_or_48_is_told_by_12_bit() -> None:
    r = s19()
    layer = Layer(r, "found")
    result = run_result(layer, r.runs["main"])
    by_rate = {t.over: t.signal.name for t in rate_tests(layer, result)}
    assert by_rate["frl:4x12"] == "2160p120 RGB 12-bit"
    assert by_rate["frl:4x10"] == "2160p120 RGB 10-bit"
    proof = rate_proof(layer, result, {"frl:4x10": HELD, "frl:4x12": FELL})
    assert "at least 40 Gb/s" in proof.said
    assert "stops under 48 Gb/s" in proof.said
    assert "lead A1" in proof.swap


def test_with_compression_possible_nothing_is_proved() -> None:
    r = apply(s19(), [{"op": "set_fact", "device": "tv", "path": "ports.hdmi3.dsc", "value": True},
                      {"op": "set_fact", "device": "pc", "path": "ports.hdmi.dsc", "value": True}])[0]  # fmt: skip
    layer = Layer(r, "found")
    proof = rate_proof(layer, run_result(layer, r.runs["main"]), {"frl:4x10": HELD})
    assert proof.said.startswith("Undetermined")
    assert (proof.next, proof.lowest, proof.determined) == (None, None, False)


def test_outcomes_that_contradict_prove_nothing() -> None:
    r = s19()
    layer = Layer(r, "found")
    result = run_result(layer, r.runs["main"])
    rates = [t.over for t in rate_tests(layer, result)]
    for a, b in product(rates, rates):
        if rates.index(a) <= rates.index(b):
            proof = rate_proof(layer, result, {b: HELD, a: FELL} if a != b else {a: HELD})
            assert proof.contradicts == (a != b)


def fell_back(r: Rig, over: str) -> Rig:
    """The rig with a test noted as fallen back, with what it rests on now."""
    layer, main = Layer(r, "found"), r.runs["main"]
    grounds = grounds_of(layer, main, run_result(layer, main).path)
    seen = {"uid": "fell", "run": "main", "device": "pc", "line": line_of(over), "place": "Rate test", "label": over,
            "answer": "seen", "observed": FELL, "at": "2026-11-29T10:00:00Z", "grounds": grounds}  # fmt: skip
    return apply(r, [{"op": "observe", "observation": seen}])[0]


def failed_of(r: Rig, over: str) -> list[Any]:
    layer, main = Layer(r, "found"), r.runs["main"]
    result = run_result(layer, main)
    test = next(t for t in rate_tests(layer, result) if t.over == over)
    return list(failed_ops(r, "main", test, grounds_of(layer, main, result.path)))


SWAP: list[dict[str, Any]] = [
    {"op": "move_lead", "layer": "found", "lead": "A1", "end": "a", "to": None},
    {"op": "move_lead", "layer": "found", "lead": "A1", "end": "b", "to": None},
    {"op": "add_lead", "lead": {"uid": "A2", "label": "A2", "grade": "ultra", "found": [
        {"device": "pc", "port": "hdmi"}, {"device": "tv", "port": "hdmi3"}]}},
]  # fmt: skip


def test_one_swap_tells_the_lead() -> None:
    """It fell back with A1, it holds with A2 in the same sockets: A1 is the one."""
    r = apply(fell_back(s19(), "frl:4x12"), SWAP)[0]
    assert failed_of(r, "frl:4x12") == [{"op": "replace_lead", "lead": "A1", "failed": "frl:4x12"}]


@pytest.mark.parametrize(
    "more",
    [
        [setting("tv", "hdmi3", "format", "basic", "found"), setting("tv", "hdmi3", "format", "wide", "found")],
        [],
    ],
)
def test_put_back_as_it_was_is_no_other_difference(more: list[dict[str, Any]]) -> None:
    assert failed_of(apply(fell_back(s19(), "frl:4x12"), [*SWAP, *more])[0], "frl:4x12")


def test_nothing_is_said_of_a_lead_where_more_changed() -> None:
    moved = {"op": "move_lead", "layer": "found", "lead": "A2", "end": "b", "to": {"device": "tv", "port": "hdmi4"}}
    assert failed_of(apply(fell_back(s19(), "frl:4x12"), [*SWAP, moved])[0], "frl:4x8") == []
    assert failed_of(fell_back(s19(), "frl:4x12"), "frl:4x12") == []  # the same lead again
    newer = {"op": "set_device", "device": "tv", "firmware": "2.7"}
    old = apply(s19(), [{"op": "set_device", "device": "tv", "firmware": "2.6"}])[0]
    assert failed_of(apply(fell_back(old, "frl:4x12"), [*SWAP, newer])[0], "frl:4x12") == []


def test_a_title_that_held_proves_no_more_than_its_mode() -> None:
    """1080p60 of a made-up chain: who watches sees the mode, and 4:2:0 would halve its rate (148.5 MHz, CTA-861)."""
    t = Truth("on", "widest", None, ("1920x1080@60",), True, True)
    for listed, over in (([], "tmds:149"), (["vic:16"], "tmds:75")):
        r = rig_of(t, {})
        more = {"rgb": [8, 10], "422": [12], "420": [8]}
        ops = [{"op": "set_fact", "device": d, "path": f"ports.{p}.encodings", "value": more}
               for d, p in (("source", "out"), ("screen", "in1"))]  # fmt: skip
        ops.append({"op": "set_fact", "device": "screen", "path": "ports.in1.modes_420", "value": tuple(listed)})
        layer = Layer(apply(r, ops)[0], "found")
        result = run_result(layer, layer.rig.runs["main"])
        said_proved = list(proofs_of(layer, result, arrival(layer, result)))
        assert [op["proved"] for op in said_proved] == [over]  # type: ignore[typeddict-item]


# --- evidence grows stale


def observed(r: Rig) -> Observation:
    layer = Layer(r, "found")
    main = r.runs["main"]
    grounds = grounds_of(layer, main, run_result(layer, main).path)
    return Observation(
        "o1", "main", "tv", "x", "", "", "as_predicted", "yes", "yes", "2026-11-29", grounds=tuple(grounds.items())
    )


@pytest.mark.parametrize(
    ("ops", "what"),
    [
        ([setting("tv", "hdmi3", "format", "wide", "found")], "Input format of TV, HDMI 3"),
        ([{"op": "move_lead", "layer": "found", "lead": "A1", "end": "b", "to": {"device": "tv", "port": "hdmi4"}}],
         "lead A1"),
        ([{"op": "set_device", "device": "tv", "firmware": "2.7"}], "firmware of TV"),
        ([setting("tv", "hdmi4", "format", "wide", "found")], ""),  # another socket's
        ([{"op": "set_device", "device": "console", "firmware": "9.9"}], ""),  # read for the first time: no change
        ([setting("tv", "hdmi3", "game", "on", "found")], ""),  # nobody knew it then
        ([{"op": "select_input", "layer": "found", "device": "tv", "value": "hdmi1"}], ""),
    ],
)  # fmt: skip
def test_what_it_rests_on_ages_it(ops: list[dict[str, Any]], what: str) -> None:
    r = apply(s11(), [{"op": "set_device", "device": "tv", "firmware": "2.6"}])[0]
    seen = observed(r)
    assert changed_since(r, seen.grounds) == []
    later = apply(r, ops)[0]
    assert [c.what for c in changed_since(later, seen.grounds)] == ([what] if what else [])


def test_told_counts_and_names_the_first_difference() -> None:
    r = s11()
    r = apply(r, [_op(r, "console/list/mode.3840x2160@60", "as_predicted"),
                  _op(r, "console/list/mode.3840x2160@120", "differs"),
                  _op(r, "tv/banner/mode", "as_predicted")])[0]  # fmt: skip
    layer = Layer(r, "found")
    told = prove_data(layer, layer, r.runs["main"], "", [])
    assert (told["as_predicted"], told["differ"], told["stale"]) == (2, 1, 0)
    assert told["first_differs"].startswith("CONSOLE")
    assert said_lines(readouts(layer, r.runs["main"]))


def test_what_was_seen_is_held_against_now_alone() -> None:
    """At another moment the boxes read otherwise by right: nothing is compared there."""
    r = apply(s11(), [setting("console", "", "fast_refresh", "on"), setting("tv", "hdmi3", "format", "wide")])[0]
    r = apply(r, [_op(r, "console/list/mode.3840x2160@120", "as_predicted")])[0]
    now, end = Layer(r, "found"), Layer(r, "plan")
    told = prove_data(end, now, r.runs["main"], END, [])
    assert (told["differ"], told["as_predicted"], told["stale"]) == (0, 0, 0)
    assert prove_data(now, now, r.runs["main"], "", [])["as_predicted"] == 1


def _op(r: Rig, line: str, answer: str) -> dict[str, Any]:
    cards = readouts(Layer(r, "found"), r.runs["main"])
    card, x = next((c, x) for c in cards for x in c.lines if f"{c.device}/{c.kind}/{x.key}" == line)
    seen = x.says if answer == "as_predicted" else "yes"
    data = {"uid": line.replace("/", "-")[:40], "run": "main", "device": card.device, "line": line_key(card, x),
            "place": "", "label": x.label, "answer": answer, "predicted": x.says, "observed": seen,
            "at": "2026-11-29T10:00:00Z"}  # fmt: skip
    return {"op": "observe", "observation": data}


def test_an_observation_goes_and_comes_back() -> None:
    r = s11()
    op = _op(r, "tv/banner/mode", "as_predicted")
    after, back = apply(r, [op])
    assert len(after.observations) == 1
    again, _ = apply(after, back)
    assert again.observations == r.observations
    assert apply(*[again, apply(after, back)[1]])[0].observations == after.observations


# S12: the counter says 60 where 120 is expected: two hypotheses, and the look that decides.
def test_s12_a_counter_is_doubted_not_believed() -> None:
    r = apply(s11(), [setting("console", "", "fast_refresh", "on", "found"),
                      setting("tv", "hdmi3", "format", "wide", "found"),
                      {"op": "set_want", "run": "main", "key": "vrr", "value": False}])[0]  # fmt: skip
    card, x = next((c, x) for c in readouts(Layer(r, "found"), r.runs["main"]) for x in c.lines if c.kind == "counter")
    assert x.says == "120 Hz"
    data = {"uid": "o1", "run": "main", "device": card.device, "line": line_key(card, x), "place": "", "label": "",
            "answer": "differs", "predicted": x.says, "observed": "60 Hz", "at": "2026-11-29T10:00:00Z"}  # fmt: skip
    r = apply(r, [{"op": "observe", "observation": data}])[0]
    layer = Layer(r, "found")
    doubt = prove_data(layer, layer, r.runs["main"], "", [])["doubts"][0]
    assert "counter is wrong" in doubt["either"]
    assert "really sends 60 Hz" in doubt["other"]
    assert "measure itself" in doubt["check"]
    assert len(doubt["told"]) == 2


def test_a_title_in_hdr_is_sent_deep_enough() -> None:
    """A console that picks its own mode goes to ten bits or more where HDR is known all along."""
    r = apply(s11(), [setting("console", "", "fast_refresh", "on", "found"),
                      setting("tv", "hdmi3", "format", "wide", "found")])[0]  # fmt: skip
    assert said(r)["tv/banner/hdr"] == "yes"
    off = apply(r, [{"op": "set_want", "run": "main", "key": "hdr", "value": "off"}])[0]
    assert "tv/banner/hdr" not in said(off)
