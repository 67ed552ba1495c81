"""What a run carries: the want held against every socket and link of its path, item by item.

Three passes: capabilities upstream (what the source reads), the source's choice, the signal downstream.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import reduce

from wavilex.core.chain.analogue import as_fed, meetings, output_mode, segments
from wavilex.core.chain.choice import choose, signals_of, title_signals
from wavilex.core.chain.displays import display_reasons, turned_adapters
from wavilex.core.chain.items import Item, judge_chroma, judge_features, judge_mode, judge_source
from wavilex.core.chain.multiple_set import Taken, taken
from wavilex.core.chain.offer import advertise, path_capacities
from wavilex.core.chain.paths import Layer, Path, Station, facts_of_want
from wavilex.core.chain.reasons import Reason
from wavilex.core.chain.results import LinkResult, RunResult
from wavilex.core.chain.streams import shared, taken_on
from wavilex.core.chain.why import analogue_reasons, guess_reasons, link_reasons, unsteady_reasons
from wavilex.core.gear.state import PortState
from wavilex.core.link.check import Capacity, check_link, worst
from wavilex.core.rig.model import Rig, Run, Want
from wavilex.core.scan.multiples import sent_timing
from wavilex.core.video.signal import DigitalVideo, demand
from wavilex.core.video.timing import Timing

RESULT_BYTES = 3000  # a run’s result, measured on the demo job


def run_result(layer: Layer, run: Run, want: Want | None = None) -> RunResult:
    """Judge a run (or another want on the same path) in a compiled layer."""
    want = want or run.want
    paths = layer.paths(run)
    if not paths:
        return _unjoined(layer.rig, run)
    facts = facts_of_want(want)
    path = layer.digital(paths[0])
    if facts.vrr and path and layer.state(path[0].out, facts).vrr is False:
        facts = replace(facts, vrr=False)  # the picture carries what its source is set to, not what is wished
    stations = layer.stations(path, facts)
    beside = layer.beside(path, facts)
    met = tuple(meetings(layer, paths[0])) if len(path) < len(paths[0]) else ()
    slots = taken_on(layer, run, paths[0])
    together = tuple(display_reasons(layer, run, paths[0]))
    key = (
        layer.states.name, run, want, paths[0], met, slots, repr(together) if together else "",
        tuple(layer.rig.leads[h.lead].cable for h in path),
        tuple(id(s.state) for s in stations), tuple((s.socket, id(s.state)) for s in beside),
    )  # fmt: skip
    kept: tuple[RunResult, object] | None = layer.states.memory.get(key)
    if kept is not None:
        return kept[0]
    found = _judge(layer, run, want, paths[0], path, stations, beside, _Others(slots, together))
    held = tuple(s.state for s in (*stations, *beside))  # the key names them by identity: they must live as long
    layer.states.memory.put(key, (found, held), RESULT_BYTES)
    return found


@dataclass(frozen=True, slots=True)
class _Others:
    """What other runs do to one: time slots they take, by hop, and what its source does not drive together."""

    taken: tuple[int | None, ...] = ()
    displays: tuple[Reason, ...] = ()


@dataclass(frozen=True, slots=True)
class _Segment:
    """A stretch that carries one signal, held against a want: what its boxes share, its links, what is said of it."""

    read: list[Station]
    seen: PortState
    capacities: list[Capacity]
    signals: list[DigitalVideo]
    asked: DigitalVideo
    links: list[LinkResult]
    mode: Item
    chroma: Item
    reasons: list[Reason]

    @property
    def alternatives(self) -> tuple[DigitalVideo, ...]:
        """The other signals all boxes offer and every link would carry."""
        if self.chroma.verdict == "blocked":
            return ()
        return tuple(s for s in self.signals if s != self.asked and _all_fit(s, self.capacities))


def _judge(
    layer: Layer, run: Run, want: Want, whole: Path, path: Path, stations: list[Station], beside: list[Station],
    others: _Others,
) -> RunResult:  # fmt: skip
    """Hold the want against every socket and link of a path; `path` are its digital links."""
    if not path:
        return _unread(run, whole, analogue_reasons(layer, whole, None))
    stations = as_fed(layer, whole, stations)
    first, *onward = _segments(layer, path, stations, beside, want, taken(layer, whole), others.taken)
    analogue = analogue_reasons(layer, whole, (onward[-1] if onward else first).asked.timing)
    chosen = title_signals(layer, run, first.read, first.seen, first.capacities[0], want)
    could = chosen and signals_of(want.mode, first.read, first.seen, first.capacities[0], want.audio)
    source = judge_source(stations[0], chosen if could else [], want)
    if others.displays:
        source = _together(source, Item("source", "unknown", True, others.displays))
    items = _items(layer, run, want, [first, *onward], source, analogue, stations, beside)
    return RunResult(
        run, worst([i.verdict for i in items if i.blocking]), whole, first.asked, chosen[0] if chosen else None,
        tuple(x for s in (first, *onward) for x in s.links), items, first.alternatives, tuple(stations), tuple(beside),
        onward[-1].asked if onward else None,
    )  # fmt: skip


def _segments(
    layer: Layer, path: Path, stations: list[Station], beside: list[Station], want: Want, made: Taken | None,
    slots: tuple[int | None, ...],
) -> Iterator[_Segment]:  # fmt: skip
    """The stretches of a path. Behind a scaler the want is what it sends on; `beside` are boxes the source reads.

    made: the multiple that the first box sends, whose clock is its own. slots: what other streams take, by hop.
    """
    at = 0
    for part in segments(layer, path):
        own = stations[at : at + 2 * len(part)]
        if at:
            sent = output_mode(layer, layer.rig.devices[part[0].out.device])
            yield _segment(layer, part, own, [], replace(want, mode=sent or want.mode), slots[at // 2 :])
        else:
            exact = sent_timing(made.multiple) if made is not None else None
            yield _segment(layer, part, own, beside, want, slots, exact if exact and exact.mode == want.mode else None)
        at += len(own)


def _segment(
    layer: Layer, path: Path, own: list[Station], beside: list[Station], want: Want, slots: tuple[int | None, ...],
    exact: Timing | None = None,
) -> _Segment:  # fmt: skip
    """exact: the timing that is sent whatever the far end lists."""
    read, seen = [*own, *beside], advertise(layer, own, beside)
    capacities = shared(path_capacities(layer, own, path), slots)
    listed, mode = judge_mode(read, seen, want)
    timing = exact or listed
    signals, chroma = judge_chroma(read, timing, want)
    asked = choose(signals, capacities)
    need = demand(asked)
    links = [LinkResult(h, c, asked, check_link(need, c)) for h, c in zip(path, capacities, strict=True)]
    leanest = min(signals, key=lambda s: demand(s).tb_active)
    reasons = turned_adapters(layer, path) or link_reasons(layer, links, asked, leanest)
    return _Segment(read, seen, capacities, signals, asked, links, mode, chroma, reasons)


def _items(
    layer: Layer, run: Run, want: Want, judged: list[_Segment], source: Item, analogue: list[Reason],
    stations: list[Station], beside: list[Station],
) -> tuple[Item, ...]:  # fmt: skip
    """What is said of a run, in the order it is read."""
    mode = reduce(_together, (s.mode for s in judged))
    guesses = [*guess_reasons(stations), *unsteady_reasons(layer, stations, facts_of_want(want))]
    reasons = (*(r for s in judged for r in s.reasons), *analogue)
    features = judge_features(layer, run, [*stations, *beside], want)
    return (
        Item("joined", "fits", True),
        source,
        Item("picture", worst([mode.verdict, *(r.verdict for r in guesses)]), True, (*mode.reasons, *guesses)),
        *(i for i in features if i.key == "hdr"),  # said before depth: no HDR is why ten bits are missing
        reduce(_together, (s.chroma for s in judged)),
        Item("link", worst([r.verdict for r in reasons]), True, reasons),
        *(i for i in features if i.key != "hdr"),
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


def _all_fit(signal: DigitalVideo, capacities: Sequence[Capacity]) -> bool:
    return all(check_link(demand(signal), cap).fits for cap in capacities)
