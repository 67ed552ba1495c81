"""What rate a run's path really carries: the shortest sequence of test modes, each chosen by what the last one showed.

Common practice: step through modes that each need the next rate; one that sticks proves its rate, one that falls back
says that the lead, a socket or the source stops below it. Halving what is still open asks fewest questions at worst.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from wavilex.core.chain.offer import PREFERRED, common_signals, sends, timing_for
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.state import ANY
from wavilex.core.link.cable import Cable, speed
from wavilex.core.link.dp import bits_on_dp
from wavilex.core.link.rates import ceiling_text, parse_over
from wavilex.core.prove.belief import compression_excluded, lanes_of, more, rate_needed
from wavilex.core.prove.lists import Reading, hardware_modes, reading
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import Change
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.signal import DigitalVideo, demand

HELD, FELL = "held", "fell back"
OUTCOMES = (HELD, FELL)
_ENOUGH_HZ = 50


@dataclass(frozen=True, slots=True)
class RateTest:
    """A mode to set, and the least link rate that carries it uncompressed (`frl:4x10`)."""

    signal: DigitalVideo
    over: str

    @property
    def rate(self) -> str:
        """`40 Gb/s (4 × 10)`."""
        return ceiling_text(*parse_over(self.over))


@dataclass(frozen=True, slots=True)
class RateProof:
    """Where a rate proof stands. tests: all there are, slowest first. next: what to try now, None when nothing is left
    or nothing can be proved. at_most: how many more tries at worst. lowest, below: what is proved, by rate.
    compressed: why nothing is proved, "" where compression is excluded. swap: what to change next to tell which part
    stops, where something does.
    """

    tests: tuple[RateTest, ...]
    outcomes: Mapping[str, str]
    next: RateTest | None
    at_most: int
    lowest: str | None
    below: str | None
    compressed: str
    contradicts: bool
    said: str
    swap: str

    @property
    def determined(self) -> bool:
        """Is it known to one step of what the two ends could try?"""
        return not self.compressed and not self.contradicts and self.next is None and bool(self.lowest or self.below)


def rate_tests(layer: Layer, result: RunResult) -> list[RateTest]:
    """The modes that source and screen share, one for each rate that some of them needs: the plainest of its kind."""
    read = reading(layer, result)
    if read is None:
        return []
    lanes = lanes_of(read.link)
    found: dict[str, DigitalVideo] = {}
    for signal in _signals(layer, result, read):
        over = rate_needed(signal, lanes)
        if over is None:
            continue
        step = _class_of(over) if over.startswith("tmds") else over
        if step not in found or _plainer(signal, found[step], lanes):
            found[step] = signal
    return [RateTest(found[o], rate_needed(found[o], lanes) or o) for o in sorted(found, key=speed)]


def _class_of(over: str) -> str:
    """TMDS ceilings that leads and sockets really stop at: 165, 340 and 600 MHz."""
    mhz = int(over.partition(":")[2])
    return f"tmds:{next(c for c in (165, 340, 600) if mhz <= c)}"


def _plainer(a: DigitalVideo, b: DigitalVideo, lanes: int) -> bool:
    """Nearer the rate's own ceiling, then fuller chroma: a mode that needs all of it proves it best."""
    if lanes:  # one rate of lanes carries both
        return bits_on_dp(demand(a)) * a.timing.pixel_clock_hz > bits_on_dp(demand(b)) * b.timing.pixel_clock_hz
    return speed(rate_needed(a) or "tmds:25") > speed(rate_needed(b) or "tmds:25")


def _signals(layer: Layer, result: RunResult, read: Reading) -> Iterator[DigitalVideo]:
    device = layer.rig.devices[result.run.source]
    modes = hardware_modes(device, read.own.socket.port)
    listed = read.seen.modes
    if not modes and listed is not None and listed != ANY:
        modes = [m for m in (listed_timing(c).mode for c in listed) if not m.interlaced and m.hz >= _ENOUGH_HZ]
    for mode in modes or [result.run.want.mode]:
        timing = timing_for(read.seen.modes, mode) if sends(read.own.state, mode) else None
        if timing is not None:
            yield from common_signals(read.stations, timing, PREFERRED, 8, result.run.want.audio)


def rate_proof(layer: Layer, result: RunResult, outcomes: Mapping[str, str]) -> RateProof:
    """Where the proof stands. outcomes: `held` or `fell back`, by a test's rate; others than the tests' are ignored."""
    tests = rate_tests(layer, result)
    known = {t.over: outcomes[t.over] for t in tests if outcomes.get(t.over) in OUTCOMES}
    held = [o for o, x in known.items() if x == HELD]
    fell = [o for o, x in known.items() if x == FELL]
    lowest, below = max(held, key=speed, default=None), min(fell, key=speed, default=None)
    contradicts = lowest is not None and below is not None and speed(below) <= speed(lowest)
    compressed = _compressed(layer.rig, result)
    left = [t for t in tests if t.over not in known and _open(t.over, lowest, below)]
    ask = left[len(left) // 2] if left and not contradicts and not compressed else None
    at_most = len(left).bit_length() if ask else 0
    said = _said(tests, lowest, below, compressed, contradicts, left)
    swap = _swap(layer.rig, result, below) if below and not contradicts and not compressed else ""
    if contradicts or compressed:
        lowest = below = None
    return RateProof(tuple(tests), known, ask, at_most, lowest, below, compressed, contradicts, said, swap)


def _open(over: str, lowest: str | None, below: str | None) -> bool:
    above = lowest is None or speed(over) > speed(lowest)
    return above and (below is None or speed(over) < speed(below))


def _compressed(rig: Rig, result: RunResult) -> str:
    """Why a mode that sticks proves no rate: it may come compressed. "" where that is excluded."""
    if compression_excluded(result):
        return ""
    for station in result.stations:
        device = rig.devices[station.socket.device]
        switch = next((s for s in device.profile.settings if _switches_compression(device.profile.quirks, s.id)), None)
        if switch is not None:
            return (
                f"Undetermined: a picture may come compressed, and then needs less than its mode says. Set "
                f"{switch.label} of {device.label} so that nothing is compressed, and note it."
            )
    return (
        "Undetermined: a picture may come compressed, and then needs less than its mode says. Nothing here is known to "
        "switch compression off."
    )


def _switches_compression(quirks: Sequence[object], setting: str) -> bool:
    for q in quirks:
        limits, when = getattr(q, "limits", None), getattr(q, "when", None)
        if limits is None or when is None or limits.dsc is not False:
            continue
        if any(c.setting == setting for c in when.walk()):
            return True
    return False


def _said(
    tests: Sequence[RateTest], lowest: str | None, below: str | None, compressed: str, contradicts: bool,
    left: Sequence[RateTest],
) -> str:  # fmt: skip
    if not tests:
        return "Source and screen share no mode that would prove a rate."
    if compressed:
        return compressed
    if contradicts:
        return (
            "The outcomes contradict each other: a mode held that needs more than one that fell back. Try both again."
        )
    if lowest is None and below is None:
        return "Nothing tried yet."
    parts = []
    if lowest is not None:
        parts.append(f"lead and both sockets carry at least {_name(lowest)}")
    if below is not None:
        parts.append(f"lead, a socket or the source stops under {_name(below)}")
    if left:
        parts.append(f"still open: {', '.join(t.rate for t in left)}")
    elif below is None and lowest is not None:
        parts.append("more cannot be tried here: these two share no mode that needs it")
    text = "; ".join(parts)
    return f"{text[0].upper()}{text[1:]}. It says nothing of compressed pictures, of other sockets, of other leads."


def _name(over: str) -> str:
    return ceiling_text(*parse_over(over))


def _swap(rig: Rig, result: RunResult, below: str) -> str:
    """The single change that tells lead from socket from source: the lead first, where it is not the proved one."""
    leads = [rig.leads[x.hop.lead] for x in result.links]
    doubtful = [x for x in leads if not x.cable.proved or speed(x.cable.proved) < speed(below)]
    if not doubtful:
        return (
            f"Its leads were proved to {_name(below)}: it is a socket or the source. Plug the source into another "
            "socket that should carry it: if it holds there, the socket was it; if not, the source is."
        )
    lead = doubtful[0]
    spare = next(
        (
            x
            for x in rig.leads.values()
            if x.uid != lead.uid and x.cable.proved and speed(x.cable.proved) >= speed(below)
        ),
        None,
    )
    name = f"lead {spare.label}, proved to {_name(spare.cable.proved or below)}" if spare else (
        f"a lead certified for {_name(below)}, or one that was seen to carry it"
    )  # fmt: skip
    return (
        f"One swap tells: hang {name} in place of lead {lead.label}, and try the mode that fell back. If it holds, "
        f"lead {lead.label} was it; if it falls back again, it is a socket or the source."
    )


def proved_ops(rig: Rig, result: RunResult, proof: RateProof) -> list[Change]:
    """What the proof so far says of the leads: the highest rate that held, where it is more than was noted."""
    if proof.lowest is None or proof.compressed:
        return []
    return [
        {"op": "replace_lead", "lead": x.hop.lead, "proved": proof.lowest}
        for x in result.links
        if more(proof.lowest, rig.leads[x.hop.lead].cable)
    ]


def line_of(over: str) -> str:
    """Names a test's outcome among a run's observations."""
    return f"rate/{over}"


def failed_ops(rig: Rig, run: str, test: RateTest, grounds: Mapping[str, str]) -> list[Change]:
    """A lead that fell back where another held: the same sockets, firmware and settings, one lead swapped.

    grounds: what the test that held rests on. Nothing where anything else differs too.
    """
    line = line_of(test.over)
    fell = [o for o in rig.observations.values() if (o.run, o.line, o.observed) == (run, line, FELL)]
    for seen in reversed(fell):
        gone = _only_swapped(dict(seen.grounds), grounds)
        lead = rig.leads.get(gone) if gone else None
        if lead is not None and _believable(lead.cable, test.over):
            return [{"op": "replace_lead", "lead": lead.uid, "failed": test.over}]
    return []


def _only_swapped(before: Mapping[str, str], now: Mapping[str, str]) -> str | None:
    """The lead that hung there before, where that alone is another now; None otherwise."""
    leads = {k: v for k, v in before.items() if k.startswith("lead/")}
    here = {k: v for k, v in now.items() if k.startswith("lead/")}
    others = {k for k in before.keys() & now.keys() if not k.startswith("lead/")}
    if any(before[k] != now[k] for k in others) or sorted(leads.values()) != sorted(here.values()):
        return None
    gone = leads.keys() - here.keys()
    return next(iter(gone)).partition("/")[2] if len(gone) == 1 else None


def _believable(cable: Cable, over: str) -> bool:
    """Is it news that a lead fails at a rate, and not against what it was proved to carry?"""
    if cable.failed and speed(cable.failed) <= speed(over):
        return False
    return cable.proved is None or speed(cable.proved) < speed(over)
