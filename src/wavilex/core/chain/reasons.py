"""Reasons: why an answer is what it is, as data, and their rendering as sentences and sums."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from wavilex.core.chain.rig import Rig, Socket
from wavilex.core.gear.state import Origin
from wavilex.core.link.check import LinkVerdict
from wavilex.core.link.sums import link_sums
from wavilex.core.link.words import DEAD_LEADS, below_minimum_sentence, richest_sound
from wavilex.core.quantity import Quantity

PROVENANCE_NAMES = {
    "document": "published document",
    "common_practice": "common practice",
    "measured_here": "measured here",
    "makers_claim": "maker’s claim",
    "guess": "a guess",
}


@dataclass(frozen=True, slots=True)
class Reason:
    """Why something is so.

    code: stable code; item: which part of the want it speaks of; verdict: how grave;
    socket, lead: what it is about; origin: what settled the figure; data: words for the sentence.
    """

    code: str
    item: str
    verdict: str
    socket: Socket | None = None
    lead: str | None = None
    origin: Origin | None = None
    link: LinkVerdict | None = None
    data: Mapping[str, Any] = field(default_factory=dict)

    @property
    def quantities(self) -> tuple[Quantity, ...]:
        """The sums behind the sentence, worked out when asked for."""
        return link_sums(self.link) if self.link is not None else ()

    @property
    def provenance(self) -> str:
        return self.origin.provenance if self.origin else "document"

    @property
    def subject(self) -> str:
        """A key for what limits: `stage/<device>/<port>`, `lead/<uid>` or `run`."""
        if self.lead is not None:
            return f"lead/{self.lead}"
        return f"stage/{self.socket.device}/{self.socket.port}" if self.socket else "run"


_FEATURES = {
    "no_hdr": "HDR",
    "no_dynamic_hdr": "dynamic-metadata HDR",
    "no_vrr": "variable refresh",
    "no_low_latency": "automatic low latency",
}


def render(reason: Reason, rig: Rig) -> str:
    """The sentence for a reason."""
    maker = _SENTENCES.get(reason.code)
    return maker(reason, rig) if maker else reason.code.replace("_", " ")


def _where(reason: Reason, rig: Rig) -> str:
    if reason.socket is None:
        return ""
    device = rig.devices[reason.socket.device]
    port = device.profile.port(reason.socket.port)
    return f"{device.label}, {port.label}" if port else device.label


def _as_set(reason: Reason, rig: Rig) -> str:
    """` as set (Input format at basic)` when a quirk settled it, else nothing."""
    origin = reason.origin
    if origin is None or origin.kind != "quirk" or reason.socket is None:
        return ""
    profile = rig.devices[reason.socket.device].profile
    words = []
    for _scope, key, value in origin.settings:
        setting = profile.setting(key)
        if setting:
            words.append(f"{setting.label} at {setting.option_label(value) if value else 'nobody knows what'}")
    return f" as set ({', '.join(words)})"


def because(reason: Reason) -> str:
    """The quirk's own words, for the small print under a sentence."""
    return reason.origin.because if reason.origin else ""


def _feature(reason: Reason, rig: Rig) -> str:
    by_hand = ": choose its game mode by hand" if reason.code == "no_low_latency" else ""
    return f"No {_FEATURES[reason.code]} at {_where(reason, rig)}{_as_set(reason, rig)}{by_hand}."


def _unknown_feature(reason: Reason, rig: Rig) -> str:
    return f"Nobody knows yet whether {_where(reason, rig)} handles {reason.data['what']}."


def _link_rate(reason: Reason, rig: Rig) -> str:
    limit, signal = reason.data["limit"], reason.data["signal"]
    if reason.lead is not None:
        lead = rig.leads[reason.lead]
        return f"{signal} stops at lead {lead.label}: {reason.data['grade']}, it carries {limit} at most."
    part = "sends" if reason.data["end"] == "out" else "takes"
    return f"{signal} stops at {_where(reason, rig)}: it {part} {limit} at most{_as_set(reason, rig)}."


def _no_audio_room(reason: Reason) -> str:
    link = reason.link
    sound = link.demand.signal.sound.name if link else "this sound"
    lesser = richest_sound(link) if link else None
    would = f"; {lesser.name} would pass" if lesser else ""
    return f"{reason.data['signal']} would fit, but its blanking leaves no room for {sound}{would}."


_SENTENCES: dict[str, Callable[[Reason, Rig], str]] = {
    "no_hdr": _feature,
    "no_dynamic_hdr": _feature,
    "no_vrr": _feature,
    "no_low_latency": _feature,
    "unknown_feature": _unknown_feature,
    "link_rate": _link_rate,
    "not_connected": lambda r, rig: f"{r.data['source']} does not reach {r.data['sink']}: no lead joins them.",
    "source_mode": lambda r, rig: f"{_where(r, rig)} does not send {r.data['mode']}.",
    "panel_rate": lambda r, rig: (
        f"{_where(r, rig)} takes no {r.data['hz']} Hz at any resolution{_as_set(r, rig)}; "
        f"its fastest is {r.data['fastest']}."
    ),
    "mode_not_taken": lambda r, rig: f"{_where(r, rig)} does not list {r.data['mode']}{_as_set(r, rig)}.",
    "no_encoding": lambda r, rig: f"{_where(r, rig)} takes no {r.data['asked']}{_as_set(r, rig)}.",
    "no_audio_room": lambda r, rig: _no_audio_room(r),
    "no_blanking_room": lambda r, rig: f"{r.data['signal']} has too little blanking for this link.",
    "below_minimum_clock": lambda r, rig: (
        f"{r.data['signal']}: {below_minimum_sentence(r.link.demand)}" if r.link else ""
    ),
    "compressed": lambda r, rig: (
        f"{r.data['signal']} reaches {_where(r, rig)} compressed, at {r.data['bpp']} bits a pixel."
    ),
    "compression_unknown": lambda r, rig: (
        f"{r.data['signal']} fits only compressed, and whether {_where(r, rig)} compresses is not known."
    ),
    "proved_so_far": lambda r, rig: (
        f"Lead {rig.leads[str(r.lead)].label} was proved to {r.data['proved']}; whether it carries "
        f"{r.data['signal']} nobody has tried."
    ),
    "lead_turned": lambda r, rig: f"Nothing passes lead {rig.leads[str(r.lead)].label}: {DEAD_LEADS['lead_turned']}.",
    "lead_unfed": lambda r, rig: f"Nothing passes lead {rig.leads[str(r.lead)].label}: {DEAD_LEADS['lead_unfed']}.",
    "capacity_unknown": lambda r, rig: (
        f"Lead {rig.leads[str(r.lead)].label} has no known certification, so nobody can promise {r.data['signal']}."
        if r.lead is not None
        else f"What {_where(r, rig)} carries is not known."
    ),
    "lead_long": lambda r, rig: (
        f"Lead {rig.leads[str(r.lead)].label} is {r.data['length']} long; at this rate passive copper is trusted "
        f"to about {r.data['limit']}. An active or optical lead settles it, or a proof of this one."
    ),
    "nearly_full": lambda r, rig: f"{r.data['signal']} fills more than 98 % of the link.",
    "guessed": lambda r, rig: f"This rests on a guess about {_where(r, rig)}.",
}
