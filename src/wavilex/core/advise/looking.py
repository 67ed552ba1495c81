"""What trying or looking settles of a run that is unknown or tight: the cure that changes nothing."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from wavilex.core.chain.reasons import Code, Reason
from wavilex.core.chain.results import RunResult
from wavilex.core.rig.model import Rig


def by_looking(result: RunResult, rig: Rig) -> str:
    """What would settle the reason that decides, in a sentence; "" where no looking does."""
    reason = result.limiting
    if reason is None or reason.verdict not in ("unknown", "tight") or reason.code not in _WORDS:
        return ""
    return _WORDS[reason.code](reason, rig)


def _lead(reason: Reason, rig: Rig) -> str:
    return rig.leads[str(reason.lead)].label


def _try(reason: Reason, rig: Rig) -> str:
    return (
        f"Or try it: show {reason.data.get('signal', 'the wanted signal')} over lead {_lead(reason, rig)} in a title "
        "that really runs at that rate, and watch it for some minutes. If it holds, note the lead as proved there."
    )


def _prove(reason: Reason, rig: Rig) -> str:
    return (
        f"Or prove it as it is: show the wanted picture over lead {_lead(reason, rig)} for some minutes, and note the "
        "lead as proved there."
    )


def _capacity(reason: Reason, rig: Rig) -> str:
    if reason.lead is not None:
        return _try(reason, rig)
    return f"Read its EDID, or look up what {rig.socket_name(reason.socket)} carries." if reason.socket else ""


def _feature(reason: Reason, rig: Rig) -> str:
    if reason.socket is None:
        return ""
    return f"Read the EDID of {rig.socket_name(reason.socket)}, or look in its menu, and note what you see."


_WORDS: Mapping[Code, Callable[[Reason, Rig], str]] = {
    "capacity_unknown": _capacity,
    "proved_so_far": _try,
    "lead_long": _prove,
    "lead_too_long": _prove,
    "lead_unread": lambda r, rig: f"Read what is printed on lead {_lead(r, rig)}, and note it in its panel on Wiring.",
    "unknown_feature": _feature,
    "guessed": _feature,
    "compression_unknown": lambda r, rig: (
        "Turn compression off at the source and show it: if the picture stays, the line carries it plain."
    ),
    "nearly_full": lambda r, rig: "By the sums it fits. Show it in a title for some minutes before you rely on it.",
    "comes_and_goes": lambda r, rig: "Watch for it before you rely on it, and note the firmware beside what you see.",
    "multiple": lambda r, rig: "Try the multiple on this screen, and note what it did: that settles it here.",
    "scan_mistaken": lambda r, rig: "",
    "analogue_link": lambda r, rig: "Plug it in with both ends off, switch on and look; note what the screen shows.",
}
