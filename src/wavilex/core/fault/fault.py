"""A fault: what is otherwise than noted, as a change of the found rig or as what the grammar of changes cannot say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wavilex.core.fault.kinds import FaultKind
from wavilex.core.fields import Provenance
from wavilex.core.gear.own_faults import Complaint
from wavilex.core.rig.ops import Change

Way = Literal[
    "dead", "drops", "other_input", "slow_title", "slow_content", "lies", "no_sound", "no_sync", "stuck", "own",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Effect:
    """What a fault does that is no change of the rig. hop: of the path, where it sits: nothing arrives behind it.

    key: of what it is about: a card that lies, an input that is shown. brings: how likely each complaint is then.
    """

    way: Way
    hop: int = 0
    key: str = ""
    brings: tuple[tuple[Complaint, float], ...] = ()


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that may be wrong. device: its box. what: said as a fault; if_so: the same after “if”.

    odds: against none, before anybody looked. ops: as changes of what was found. shows: what looking at it shows, by
    question. cures: what mends it, with how likely. source: where it comes from that there is such a fault.
    """

    id: str
    kind: FaultKind
    device: str
    box: str
    what: str
    if_so: str
    odds: float
    ops: tuple[Change, ...] = ()
    effect: Effect | None = None
    shows: tuple[tuple[str, str], ...] = ()
    cures: tuple[tuple[str, float], ...] = ()
    lead: str = ""
    source: Provenance = "common_practice"

    @property
    def thing(self) -> str:
        """What somebody has to mend: the same setting, lead or box, however far it is off."""
        return self.id.rpartition("=")[0] or self.id


@dataclass(frozen=True, slots=True)
class Act:
    """Something to do that may mend a fault, or a question that is answered by doing it.

    seconds: it takes; disturbs: the client sees or hears it (another title, a dark screen). ops: what it changes in
    the plan, where that can be said.
    """

    id: str
    words: str
    seconds: int
    disturbs: bool = False
    ops: tuple[Change, ...] = ()
    caution: str = ""


Acts = Mapping[str, Act]
