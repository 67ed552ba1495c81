"""What a run carries: the want held against every socket and link of its path, item by item.

Three passes: capabilities upstream (what the source reads), the source's choice, the signal downstream.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from wavilex.core.chain.analogue import as_fed, meetings, output_mode, segments
from wavilex.core.chain.choice import signals_of, title_signals
from wavilex.core.chain.items import Item, judge_chroma, judge_features, judge_mode, judge_source
from wavilex.core.chain.offer import advertise, path_capacities
from wavilex.core.chain.paths import Layer, Path, Station, facts_of_want
from wavilex.core.chain.reasons import Reason
from wavilex.core.chain.results import LinkResult, RunResult
from wavilex.core.chain.why import analogue_reasons, guess_reasons, link_reasons, unsteady_reasons
from wavilex.core.link.check import Capacity, check_link, worst
from wavilex.core.rig.model import Rig, Run, Want
from wavilex.core.video.signal import DigitalVideo, demand

RESULT_BYTES = 3000  # a run’s result, measured on the demo job


def run_result(layer: Layer, run: Run, want: Want | None = None) -> RunResult:
    """Judge a run (or another want on the same path) in a compiled layer."""
    want = want or run.want
    paths = layer.paths(run)
    if not paths:
        return _unjoined(layer.rig, run)
    facts = facts_of_want(want)
    path = layer.digital(paths[0])
    stations = layer.stations(path, facts)
    beside = layer.beside(path, facts)
    met = tuple(meetings(layer, paths[0])) if len(path) < len(paths[0]) else ()
    key = (
        layer.states.name, run, want, paths[0], met, tuple(layer.rig.leads[h.lead].cable for h in path),
        tuple(id(s.state) for s in stations), tuple((s.socket, id(s.state)) for s in beside),
    )  # fmt: skip
    kept: tuple[RunResult, object] | None = layer.states.memory.get(key)
    if kept is not None:
        return kept[0]
    found = _judge(layer, run, want, paths[0], path, stations, beside)
    held = tuple(s.state for s in (*stations, *beside))  # the key names them by identity: they must live as long
    layer.states.memory.put(key, (found, held), RESULT_BYTES)
    return found


def _judge(
    layer: Layer, run: Run, want: Want, whole: Path, path: Path, stations: list[Station], beside: list[Station]
) -> RunResult:
    """Hold the want against every socket and link of a path; `path` are its digital links."""
    analogue = analogue_reasons(layer, whole)
    if not path:
        return _unread(run, whole, analogue)
    facts = facts_of_want(want)
    stations = as_fed(layer, whole, stations)
    first, *later = segments(layer, path)
    own = stations[: 2 * len(first)]
    read = [*own, *beside]
    seen = advertise(layer, own, beside)
    capacities = path_capacities(layer, own, first)
    timing, mode_item = judge_mode(read, seen, want)
    signals, chroma_item = judge_chroma(read, timing, want)
    chosen = title_signals(layer, run, read, seen, capacities[0], want)
    could = bool(chosen) and bool(signals_of(want.mode, read, seen, capacities[0], want.audio))
    source_item = judge_source(own[0], chosen if could else [], want)
    asked = choose(signals, capacities)
    links, reasons = _judge_links(layer, first, capacities, signals, asked)
    resent = None
    for part in later:
        after = stations[2 * len(links) : 2 * (len(links) + len(part))]
        more, resent, items = _judge_onward(layer, part, after, want)
        links += more
        mode_item, chroma_item = _together(mode_item, items[0]), _together(chroma_item, items[1])
        reasons += items[2].reasons
    reasons += analogue
    link_item = Item("link", worst([r.verdict for r in reasons]), True, tuple(reasons))
    guesses = [*guess_reasons(stations), *unsteady_reasons(layer, stations, facts)]
    features = judge_features(layer, run, [*stations, *beside], want)
    items_ = [
        Item("joined", "fits", True),
        source_item,
        Item("picture", worst([mode_item.verdict, *(r.verdict for r in guesses)]), True,
             (*mode_item.reasons, *guesses)),
        *(i for i in features if i.key == "hdr"),  # said before depth: no HDR is why ten bits are missing
        chroma_item,
        link_item,
        *(i for i in features if i.key != "hdr"),
    ]  # fmt: skip
    verdict = worst([i.verdict for i in items_ if i.blocking])
    alternatives = tuple(s for s in signals if s != asked and _all_fit(s, capacities))
    return RunResult(
        run, verdict, whole, asked, chosen[0] if chosen else None, tuple(links), tuple(items_), alternatives,
        tuple(stations), tuple(beside), resent,
    )  # fmt: skip


def _judge_links(
    layer: Layer, path: Path, capacities: Sequence[Capacity], signals: Sequence[DigitalVideo], asked: DigitalVideo
) -> tuple[list[LinkResult], list[Reason]]:
    need = demand(asked)
    links = [LinkResult(h, c, asked, check_link(need, c)) for h, c in zip(path, capacities, strict=True)]
    leanest = min(signals, key=lambda s: demand(s).tb_active)
    return links, link_reasons(layer, links, asked, leanest)


def _judge_onward(
    layer: Layer, path: Path, stations: list[Station], want: Want
) -> tuple[list[LinkResult], DigitalVideo, tuple[Item, Item, Item]]:
    """The links behind a scaler, held against what it sends on: they, its signal, items on mode, chroma and link."""
    box = layer.rig.devices[path[0].out.device]
    onward = replace(want, mode=output_mode(layer, box) or want.mode)
    capacities = path_capacities(layer, stations, path)
    timing, mode_item = judge_mode(stations, advertise(layer, stations), onward)
    signals, chroma_item = judge_chroma(stations, timing, onward)
    sent = choose(signals, capacities)
    links, reasons = _judge_links(layer, path, capacities, signals, sent)
    return (
        links,
        sent,
        (mode_item, chroma_item, Item("link", worst([r.verdict for r in reasons]), True, tuple(reasons))),
    )


def _together(a: Item, b: Item) -> Item:
    return Item(a.key, worst([a.verdict, b.verdict]), a.blocking, (*a.reasons, *b.reasons))


def _unjoined(rig: Rig, run: Run) -> RunResult:
    words = {"source": rig.devices[run.source].label, "sink": rig.devices[run.sink].label}
    reason = Reason("not_connected", "joined", "blocked", data=words)
    return RunResult(run, "blocked", (), None, None, (), (Item("joined", "blocked", True, (reason,)),))


def _unread(run: Run, path: Path, analogue: list[Reason]) -> RunResult:
    """A run without any digital link: judged by its scan rates alone."""
    verdict = worst([r.verdict for r in analogue])
    items = (Item("joined", "fits", True), Item("link", verdict, True, tuple(analogue)))
    return RunResult(run, verdict, path, None, None, (), items)


def choose(signals: Sequence[DigitalVideo], capacities: Sequence[Capacity]) -> DigitalVideo:
    """The source's choice: of the signals most links carry the first it prefers (all links, if any signal fits)."""

    def carried_by(signal: DigitalVideo) -> int:
        need = demand(signal)
        return sum(check_link(need, cap).fits for cap in capacities)

    return max(signals, key=carried_by)  # max keeps the first of equals


def _all_fit(signal: DigitalVideo, capacities: Sequence[Capacity]) -> bool:
    return all(check_link(demand(signal), cap).fits for cap in capacities)
