"""What the chain answers of a run and of one link of it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from wavilex.core.chain.items import Item
from wavilex.core.chain.paths import Hop, Path, Station, facts_of_want
from wavilex.core.chain.reasons import Reason
from wavilex.core.gear.conditions import SignalFacts
from wavilex.core.link.check import Capacity, LinkVerdict, Verdict, fullest
from wavilex.core.rig.model import Run
from wavilex.core.ticks import key_of
from wavilex.core.video.signal import DigitalVideo
from wavilex.core.video.timing import Timing


@dataclass(frozen=True, slots=True)
class LinkResult:
    """One link of the run: its hop, what it can carry, the signal it should, and the verdict on that."""

    hop: Hop
    capacity: Capacity
    signal: DigitalVideo
    wanted: LinkVerdict


@dataclass(frozen=True)
class RunResult:
    """The answer for one run. `asked` is the want as a signal; `chosen` what the source picks by itself for a
    title, None where its profile does not tell. `beside`: sockets off the path whose screens the source reads too.
    `resent`: what a scaler on the way sends on instead of the source's own, None without one.
    """

    run: Run
    verdict: Verdict
    path: Path
    asked: DigitalVideo | None
    chosen: DigitalVideo | None
    links: tuple[LinkResult, ...] = ()
    items: tuple[Item, ...] = ()
    alternatives: tuple[DigitalVideo, ...] = ()
    stations: tuple[Station, ...] = field(default=(), repr=False)
    beside: tuple[Station, ...] = field(default=(), repr=False)
    resent: DigitalVideo | None = None

    @property
    def reasons(self) -> list[Reason]:
        """Every reason, what blocks first."""
        found = [(i.blocking, r) for i in self.items for r in i.reasons]
        order = ("blocked", "unknown", "compressed", "tight", "fits")
        return [r for _, r in sorted(found, key=lambda x: (not x[0], order.index(x[1].verdict)))]

    @property
    def asked_timing(self) -> Timing | None:
        """The timing asked of the last digital links; None without any."""
        last = self.resent or self.asked
        return last.timing if last is not None else None

    @property
    def limiting(self) -> Reason | None:
        """The reason that decides, None when all is well."""
        first = next((r for i in self.items if i.blocking for r in i.reasons if r.verdict == self.verdict), None)
        return None if self.verdict == "fits" else first

    @property
    def good(self) -> bool:
        return self.verdict in ("fits", "tight", "compressed")


def arriving_facts(result: RunResult) -> SignalFacts:
    """What conditions and cells of the screen may ask of the signal that reaches it."""
    facts, last = facts_of_want(result.run.want), result.resent
    return facts if last is None else replace(facts, mode=last.timing.mode)


def proof_key(result: RunResult) -> str:
    """The key of the step that proves a run in a title: another signal or path is another proof."""
    name = result.asked.name if result.asked else result.run.want.mode
    return key_of("prove", result.run.uid, name, result.path)


def spare_percent(result: RunResult) -> float | None:
    """What is left of a run's fullest link, in percent; None where none of its links is judged by rate."""
    most = fullest(x.wanted for x in result.links)
    return None if most is None or most.used_percent is None else 100 - most.used_percent
