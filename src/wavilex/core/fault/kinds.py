"""The kinds of fault, how often each is met, and how an installation's own experience moves that.

Odds are common practice in our own figures: how much likelier a fault of that kind is than none, at one such box, lead
or setting, before anybody looked. What was confirmed here is counted and moves them (Dirichlet counts).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from wavilex.core.gear.profile import Kind as BoxKind

FaultKind = Literal[
    "setting", "format", "permission", "game", "input", "control", "plug", "swapped", "lead_low", "lead_damaged",
    "lead_long", "trained_down", "handshake", "old_list", "firmware", "lacks", "asleep", "compression", "title_option",
    "content", "read_out", "sound", "sync", "supply", "own",
]  # fmt: skip
KINDS: tuple[FaultKind, ...] = get_args(FaultKind)


@dataclass(frozen=True, slots=True)
class KindOfFault:
    """name: for people. odds: of one such fault, where nothing more is known. unread: the same where nobody noted how
    it stands. at: odds at certain kinds of box.
    """

    name: str
    odds: float
    unread: float = 0.0
    at: tuple[tuple[BoxKind, float], ...] = ()


FAULTS: Mapping[FaultKind, KindOfFault] = {
    "setting": KindOfFault("a setting is not as noted", 0.02, 0.2),
    "format": KindOfFault("an input’s format fell back", 0.05, 0.4, (("receiver", 0.03),)),
    "permission": KindOfFault("the source is not allowed to", 0.04, 0.4),
    "game": KindOfFault("game mode is off", 0.05, 0.5),
    "input": KindOfFault("another input is shown", 0.06, 0.12),
    "control": KindOfFault("device control moves the input", 0.015),
    "plug": KindOfFault("a plug sits elsewhere, or is out", 0.012, 0.03),
    "swapped": KindOfFault("two leads are swapped", 0.02),
    "lead_low": KindOfFault("a lead carries less than its print", 0.02, 0.08),
    "lead_damaged": KindOfFault("a lead is damaged", 0.02),
    "lead_long": KindOfFault("a lead is too long for the rate", 0.1),
    "trained_down": KindOfFault("a link trained down", 0.015),
    "handshake": KindOfFault("a handshake is stuck", 0.03, at=(("receiver", 0.04), ("switch", 0.04), ("matrix", 0.04))),
    "old_list": KindOfFault("an old capability list is believed", 0.02, at=(("receiver", 0.03),)),
    "firmware": KindOfFault("firmware is older than believed", 0.01, 0.06),
    "lacks": KindOfFault("a box lacks what its profile promises", 0.008),
    "asleep": KindOfFault("a box sleeps or is off", 0.012, at=(("receiver", 0.02), ("converter", 0.03))),
    "compression": KindOfFault("compression is off", 0.02, 0.1),
    "title_option": KindOfFault("the title’s own option is not set", 0.06),
    "content": KindOfFault("what runs is slower than the signal", 0.05),
    "read_out": KindOfFault("a read-out lies", 0.08),
    "sound": KindOfFault("sound is routed elsewhere", 0.06),
    "sync": KindOfFault("wrong analogue sync or line standard", 0.05),
    "supply": KindOfFault("the supply is too weak", 0.03),
    "own": KindOfFault("known of this model", 0.03),
}
assert set(FAULTS) == set(KINDS)
UNKNOWN_ODDS = 0.03  # something that this model knows nothing of
SHARE_OF_HERE = 40  # so many confirmed faults weigh as much as common practice does

Confirmed = Mapping[tuple[FaultKind, str], int]  # by kind of fault and kind of box
NOTHING_CONFIRMED: Confirmed = {}


def odds_of(kind: FaultKind, box: str, *, unread: bool = False, confirmed: Confirmed = NOTHING_CONFIRMED) -> float:
    """Odds of one such fault at a kind of box, with what was confirmed here."""
    about = FAULTS[kind]
    plain = about.unread if unread and about.unread else dict(about.at).get(box, about.odds)  # type: ignore[call-overload]
    return float(plain) * learned(kind, box, confirmed)


def learned(kind: FaultKind, box: str, confirmed: Confirmed) -> float:
    """By what this installation's own count moves the odds of a kind at a kind of box: 1 where nothing was confirmed.

    The share of a kind among all faults: Dirichlet with common practice as so many faults seen before.
    """
    total = sum(confirmed.values())
    if not total:
        return 1.0
    share = FAULTS[kind].odds / sum(k.odds for k in FAULTS.values())
    here = sum(n for (k, b), n in confirmed.items() if k == kind and b == box)
    elsewhere = sum(n for (k, b), n in confirmed.items() if k == kind and b != box)
    seen = here + elsewhere / 2  # the same fault at another kind of box says half as much
    return (SHARE_OF_HERE * share + seen) / (SHARE_OF_HERE + total) / share
