"""Reasons: why an answer is what it is, as data, and their rendering as sentences and sums."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from wavilex.core.gear.origin import Origin
from wavilex.core.link.check import LinkVerdict, Verdict
from wavilex.core.link.sums import link_sums
from wavilex.core.link.words import (
    DEAD_LEADS,
    LONGER_LEAD,
    below_minimum_sentence,
    long_words,
    richest_sound,
    shortage_words,
    unlikely,
    would_pass,
)
from wavilex.core.quantity import Quantity
from wavilex.core.rig.model import Rig, Socket

Code = Literal[
    "no_hdr", "no_dynamic_hdr", "no_vrr", "no_vrr_kind", "no_low_latency",
    "unknown_feature", "link_rate", "not_connected", "source_mode", "source_prefers",
    "hdr_not_at_mode", "no_protection", "comes_and_goes", "panel_rate", "mode_not_taken",
    "no_encoding", "no_audio_room", "no_blanking_room", "below_minimum_clock", "compressed",
    "no_compression", "compression_unknown", "proved_so_far", "lead_turned", "lead_unfed", "capacity_unknown",
    "lead_long", "lead_too_long", "nearly_full", "analogue_link", "scan_refused", "scan_no_sync",
    "scan_grey", "multiple", "scan_mistaken", "scaled_down", "scaled_up",
    "home_same", "home_rate", "film_hdr", "read_out", "false_read_out",
    "no_address", "guessed", "lead_unread", "no_common_link", "dvi_format", "adapter_turned", "no_lanes",
    "too_many_displays", "not_together", "card_full", "streams_full",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Reason:
    """Why something is so.

    code: stable code; item: which part of the want it speaks of; verdict: how grave;
    socket, lead: what it is about; origin: what settled the figure; data: words for the sentence.
    """

    code: Code
    item: str
    verdict: Verdict
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


_REFUSALS = {"black": "stays black", "rolling": "shows a rolling picture", "refused": "shows nothing"}
_VRR_KINDS = {"hdmi": "HDMI VRR", "vendor": "a vendor’s adaptive sync", "none": "nothing"}


def render(reason: Reason, rig: Rig) -> str:
    """The sentence for a reason."""
    return _SENTENCES[reason.code](reason, rig)


def _where(reason: Reason, rig: Rig) -> str:
    if reason.socket is None:
        return ""
    device = rig.devices[reason.socket.device]
    port = device.profile.port(reason.socket.port)
    return f"{device.label}, {port.label}" if port else device.label


def _as_set(reason: Reason, rig: Rig) -> str:
    """` as set (Input format at basic)` when a quirk settled it, else nothing; and who is beside the path."""
    origin = reason.origin
    beside = " (its screen reads the same offer)" if reason.data.get("beside") else ""
    if origin is not None and origin.kind == "rule" and origin.because:
        return f" as it is: {origin.because}{beside}"
    if origin is None or origin.kind != "quirk" or reason.socket is None:
        return beside
    profile = rig.devices[reason.socket.device].profile
    words = [f"firmware before {origin.firmware}"] if origin.firmware else []
    for _scope, key, value in origin.settings:
        setting = profile.setting(key)
        if setting:
            words.append(f"{setting.label} at {setting.option_label(value) if value else 'nobody knows what'}")
    if not words:
        return beside
    return f" as {'set' if origin.settings else 'it is'} ({', '.join(words)}){beside}"


def because(reason: Reason) -> str:
    """The quirk's own words, for the small print under a sentence; a rule's stand in the sentence."""
    return reason.origin.because if reason.origin and reason.origin.kind != "rule" else ""


def _feature(reason: Reason, rig: Rig) -> str:
    by_hand = ": choose its game mode by hand" if reason.code == "no_low_latency" else ""
    return f"No {_FEATURES[reason.code]} at {_where(reason, rig)}{_as_set(reason, rig)}{by_hand}."


def _no_protection(reason: Reason, rig: Rig) -> str:
    has = reason.data["version"]
    has = "no copy protection" if has == "none" else f"copy protection {has}"
    what = "the source protects everything it sends, games too" if reason.data["everything"] else "this is protected"
    return f"{_where(reason, rig)} has {has}{_as_set(reason, rig)}, and {what}: it needs {reason.data['least']}."


def _unknown_feature(reason: Reason, rig: Rig) -> str:
    return f"Nobody knows yet whether {_where(reason, rig)} handles {reason.data['what']}."


def _link_rate(reason: Reason, rig: Rig) -> str:
    limit, signal = reason.data["limit"], reason.data["signal"]
    if reason.lead is not None:
        lead = rig.leads[reason.lead]
        return f"{signal} stops at lead {lead.label}: {reason.data['grade']}, it carries {limit} at most."
    part = "sends" if reason.data["end"] == "out" else "takes"
    return f"{signal} stops at {_where(reason, rig)}: it {part} {limit} at most{_as_set(reason, rig)}{_short(reason)}."


def _short(reason: Reason) -> str:
    """What is too small where it is not the line as a whole: the rate alone would seem enough."""
    frl = reason.link.frl if reason.link else None
    other = frl is not None and frl.short_of in ("blanking", "borrowing")
    return f"; {shortage_words(reason.link)}" if reason.link and other else ""


def _long(reason: Reason, rig: Rig) -> str:
    long = reason.link.long if reason.link else None
    said = f"{unlikely(long)}lead {rig.leads[str(reason.lead)].label} is {long_words(long)}" if long else ""
    return f"{said[:1].upper()}{said[1:]}. {LONGER_LEAD}"


def _no_audio_room(reason: Reason) -> str:
    link = reason.link
    sound = link.demand.signal.sound.name if link else "this sound"
    lesser = richest_sound(link) if link else None
    would = f"; {would_pass(lesser)}" if lesser else ""
    return f"{reason.data['signal']} would fit, but its blanking leaves no room for {sound}{would}."


_SENTENCES: Mapping[Code, Callable[[Reason, Rig], str]] = {
    "no_hdr": _feature,
    "no_dynamic_hdr": _feature,
    "no_vrr": _feature,
    "no_vrr_kind": lambda r, rig: (
        f"{_where(r, rig)} knows variable refresh only as {_VRR_KINDS[r.data['kind']]}, and what comes before it "
        f"only as {_VRR_KINDS[r.data['asked']]}{_as_set(r, rig)}."
    ),
    "no_low_latency": _feature,
    "unknown_feature": _unknown_feature,
    "link_rate": _link_rate,
    "not_connected": lambda r, rig: f"{r.data['source']} does not reach {r.data['sink']}: no lead joins them.",
    "source_mode": lambda r, rig: f"{_where(r, rig)} does not send {r.data['mode']}{_as_set(r, rig)}.",
    "source_prefers": lambda r, rig: (
        f"When a title starts, {rig.devices[r.socket.device].label if r.socket else 'the source'} sends "
        f"{r.data['chosen']}: it prefers that to {r.data['mode']} as long as it may send it."
    ),
    "hdr_not_at_mode": lambda r, rig: f"{_where(r, rig)} sends no HDR at {r.data['mode']}.",
    "no_protection": _no_protection,
    "comes_and_goes": lambda r, rig: (
        f"{_where(r, rig)}: {because(r)}. It comes and goes" + (f", seen {r.data['seen']}." if r.data["seen"] else ".")
    ),
    "panel_rate": lambda r, rig: (
        f"{_where(r, rig)} takes no {r.data['hz']} Hz at any resolution{_as_set(r, rig)}; "
        f"its fastest is {r.data['fastest']}."
    ),
    "mode_not_taken": lambda r, rig: f"{_where(r, rig)} does not list {r.data['mode']}{_as_set(r, rig)}.",
    "no_encoding": lambda r, rig: (
        f"{_where(r, rig)} {'sends' if r.data['end'] == 'out' else 'takes'} no {r.data['asked']}{_as_set(r, rig)}."
    ),
    "no_audio_room": lambda r, rig: _no_audio_room(r),
    "no_blanking_room": lambda r, rig: f"{r.data['signal']} has too little blanking for this link.",
    "below_minimum_clock": lambda r, rig: (
        f"{r.data['signal']} is too slow: {below_minimum_sentence(r.link.demand)}" if r.link else ""
    ),
    "compressed": lambda r, rig: (
        f"{r.data['signal']} reaches {_where(r, rig)} compressed, at {r.data['bpp']} bits a pixel."
    ),
    "no_compression": lambda r, rig: (
        f"{r.data['signal']} would pass compressed, and every other box of the way compresses: {_where(r, rig)} "
        f"{'sends' if r.data['end'] == 'out' else 'takes' if r.data['end'] == 'in' else 'passes'} nothing compressed"
        f"{_as_set(r, rig)}."
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
        else f"Nobody knows yet whether {_where(r, rig)} sends TMDS too (dual-mode): a passive adapter lives on it."
        if r.data.get("dual")
        else f"What {_where(r, rig)} carries is not known."
    ),
    "lead_unread": lambda r, rig: (
        f"{r.data['signal']} fits if lead {rig.leads[str(r.lead)].label} is {r.data['taken']}: its print was not read."
    ),
    "lead_long": lambda r, rig: _long(r, rig),
    "lead_too_long": lambda r, rig: _long(r, rig),
    "nearly_full": lambda r, rig: f"{r.data['signal']} fills more than {r.data['share']:g} % of the link.",
    "analogue_link": lambda r, rig: (
        f"Lead {rig.leads[str(r.lead)].label} brings an analogue picture to {_where(r, rig)}: whether its scan rate is "
        "taken is not worked out yet; look, or ask the manual."
    ),
    "scan_refused": lambda r, rig: (
        f"{_where(r, rig)} {_REFUSALS[r.data['treats']]} with {r.data['signal']}: it needs a converter or multiplier "
        "that takes this scan rate before it."
    ),
    "scan_no_sync": lambda r, rig: (
        f"{_where(r, rig)} finds no sync: it reads {r.data['wants']}, this signal has {r.data['brings']}. A lead or "
        "adapter that hands the sync over the other way lifts it."
    ),
    "scan_grey": lambda r, rig: (
        f"{_where(r, rig)} shows no colour: it knows {r.data['wants']}, this signal is {r.data['brings']}. RGB or "
        "component carries colour apart; or a converter that knows this system."
    ),
    "multiple": lambda r, rig: (
        f"{_where(r, rig)} {'takes no' if r.data['answer'] == 'no' else 'is doubtful about'} {r.data['multiple']}: "
        f"{r.data['why']}."
    ),
    "scan_mistaken": lambda r, rig: (
        f"{_where(r, rig)} takes {r.data['signal']} for interlaced: later, and fine lines comb."
    ),
    "scaled_down": lambda r, rig: (
        f"{_where(r, rig)} scales {r.data['mode']} down to its {r.data['panel']} panel: less sharp, and later."
    ),
    "scaled_up": lambda r, rig: f"{_where(r, rig)} scales {r.data['mode']} up to its {r.data['panel']} panel.",
    "home_same": lambda r, rig: f"{_where(r, rig)}: the home screen runs at {r.data['home']} Hz, as titles do.",
    "home_rate": lambda r, rig: (
        f"{_where(r, rig)}: the home screen runs at {r.data['home']} Hz, titles at {r.data['hz']}. The picture goes "
        "black for a moment when one starts; judge the rate inside a title."
    ),
    "film_hdr": lambda r, rig: (
        f"{_where(r, rig)} sends films in HDR only at {r.data['modes']}: that list decides, not the games’."
        if r.data["modes"]
        else f"{_where(r, rig)} never sends films in HDR: that needs another source."
    ),
    "read_out": lambda r, rig: f"{_where(r, rig)}, {r.data['place']}, should say “{r.data['says']}”.",
    "false_read_out": lambda r, rig: (
        f"{_where(r, rig)}, {r.data['place']}, may say “{r.data['says']}”: do not trust it, {r.data['because']}."
    ),
    "no_common_link": lambda r, rig: (
        f"Nothing passes into {_where(r, rig)}: {r.data['sends']} sends {r.data['has']}, and it takes "
        f"{r.data['takes']}{_as_set(r, rig)}."
    ),
    "dvi_format": lambda r, rig: f"{r.data['signal']} stops at {_where(r, rig)}: DVI carries RGB at 8 bits alone.",
    "adapter_turned": lambda r, rig: (
        f"Nothing passes {_where(r, rig)}: a passive adapter works from a DisplayPort or USB-C socket to HDMI or DVI "
        "and never the other way. From HDMI to DisplayPort it takes an active converter with its own supply."
    ),
    "no_lanes": lambda r, rig: (
        f"No picture passes lead {rig.leads[str(r.lead)].label}: a lead for USB 2 and charging has no lanes for it."
    ),
    "too_many_displays": lambda r, rig: (
        f"{rig.devices[r.socket.device].label if r.socket else 'The source'} drives {r.data['most']} displays at once, "
        f"and {r.data['count']} hang on it: which stays dark nobody knows."
    ),
    "not_together": lambda r, rig: (
        f"{_where(r, rig)} and {r.data['other']} exclude each other: one of the two stays dark, which nobody knows."
    ),
    "card_full": lambda r, rig: (
        f"{rig.devices[r.socket.device].label if r.socket else 'The source'} makes {r.data['most']} MHz of pixels for "
        f"all its displays, and together they ask {r.data['asked']}."
    ),
    "streams_full": lambda r, rig: (
        f"Lead {r.data['lead']} carries several streams: the others take about {r.data['taken']} of its "
        f"{r.data['most']} time slots, {r.data['signal']} asks about {r.data['slots']}."
    ),
    "no_address": lambda r, rig: f"Device control: {r.data['box']} {r.data['fault']}.",
    "guessed": lambda r, rig: f"This rests on a guess about {_where(r, rig)}.",
}
assert set(_SENTENCES) == set(get_args(Code))
