"""Faults of leads and of where they are plugged."""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.fault.acts import another_lead, plug_back, power_order, replug
from wavilex.core.fault.fault import Effect, Fault
from wavilex.core.fault.kinds import Confirmed, odds_of
from wavilex.core.fault.scene import Scene
from wavilex.core.link.cable import GRADES, frl_reach
from wavilex.core.link.rates import FRL_RATES, ceiling_text, parse_over
from wavilex.core.rig.model import Lead, Socket
from wavilex.core.rig.ops import Change, ReplaceLead

_FAILS_AT = {  # by the kind of a lead
    "hdmi": ("tmds:340", "tmds:600", *(f"frl:{r.code}" for r in FRL_RATES[1:6])),
    "dp": ("dp:4xhbr2", "dp:4xhbr3", "dp:4xuhbr10"), "usbc": ("dp:4xhbr2", "dp:4xhbr3", "dp:4xuhbr10"),
    "dvi": ("dvi:dual",),
}  # fmt: skip
_GRADE_WEIGHT = {"unknown": 3.0, "unread": 3.0, "standard": 2.0, "high_speed": 2.0}  # others: as it is
_TRUSTED_MM = frl_reach(FRL_RATES[-1]).trusted_mm
_MOST_OTHERS = 3


def faults_of_leads(scene: Scene, confirmed: Confirmed) -> Iterator[Fault]:
    """Of each lead of the path: what it carries, how it is plugged, what its handshake does."""
    for hop in range(len(scene.path)):
        lead = scene.layer.rig.leads[scene.path[hop].lead]
        if lead.digital:
            yield from _carries_less(scene, hop, lead, confirmed)
            yield from _stuck(scene, hop, lead, confirmed)
        yield from _damaged(scene, hop, lead, confirmed)
        yield from _plugged(scene, hop, lead, confirmed)


def _told(over: str) -> str:
    """`340 MHz`, `4 × 10 Gb/s`, `4 × HBR3`."""
    way, under = over.split(":")
    if way == "tmds":
        return f"{under} MHz"
    return f"{under.replace('x', ' × ')} Gb/s" if way == "frl" else ceiling_text(*parse_over(over))


def _at(scene: Scene, hop: int) -> tuple[str, str]:
    device = scene.path[hop].out.device
    return device, scene.layer.rig.devices[device].profile.kind


def _carries_less(scene: Scene, hop: int, lead: Lead, confirmed: Confirmed) -> Iterator[Fault]:
    """It stops below a rate: by its make, or because the link trained down once."""
    device, box = _at(scene, hop)
    if GRADES[lead.cable.grade].tmds_hz is None and not lead.cable.known:
        rates = _FAILS_AT[lead.kind]
    else:
        rates = tuple(over for over in _FAILS_AT[lead.kind] if over != lead.cable.failed)
    odds = odds_of("lead_low", box, confirmed=confirmed) * _GRADE_WEIGHT.get(lead.cable.grade, 1.0)
    for over in rates:
        change: ReplaceLead = {"op": "replace_lead", "lead": lead.uid, "failed": over}
        if lead.cable.proved:
            change["proved"] = None
        ops: tuple[Change, ...] = (change,)
        rate = _told(over)
        yield Fault(
            f"lead_low/{lead.uid}={over}", "lead_low", device, box,
            f"lead {lead.label}, or a socket it hangs in, stops under {rate}",
            f"lead {lead.label} stopped under {rate}", odds / len(rates), ops, lead=lead.uid,
            cures=((another_lead(scene, hop), 0.85),),
        )  # fmt: skip
        if over in ("frl:4x10", "frl:3x6", "tmds:600", "dp:4xhbr3", "dp:4xhbr2"):
            yield Fault(
                f"trained_down/{lead.uid}={over}", "trained_down", device, box,
                f"the link over lead {lead.label} trained down, under {rate}",
                f"the link over lead {lead.label} had trained down",
                odds_of("trained_down", box, confirmed=confirmed) / 3, ops, lead=lead.uid,
                cures=((replug(scene, hop), 0.8), (power_order(), 0.75), (another_lead(scene, hop), 0.6)),
            )  # fmt: skip


def _stuck(scene: Scene, hop: int, lead: Lead, confirmed: Confirmed) -> Iterator[Fault]:
    device, box = _at(scene, hop)
    name = f"{scene.layer.rig.socket_name(scene.path[hop].out)} and {scene.layer.rig.socket_name(scene.path[hop].inp)}"
    yield Fault(
        f"handshake/{lead.uid}", "handshake", device, box, f"the handshake between {name} is stuck",
        "the handshake was stuck", odds_of("handshake", box, confirmed=confirmed), lead=lead.uid,
        effect=Effect("stuck", hop, brings=(("no_picture", 0.9), ("black_on_start", 0.4), ("no_sound", 0.5))),
        cures=((replug(scene, hop), 0.85), (power_order(), 0.9)),
    )  # fmt: skip


def _damaged(scene: Scene, hop: int, lead: Lead, confirmed: Confirmed) -> Iterator[Fault]:
    device, box = _at(scene, hop)
    cure = ((another_lead(scene, hop), 0.95),)
    odds = odds_of("lead_damaged", box, confirmed=confirmed)
    yield Fault(
        f"lead_damaged/{lead.uid}", "lead_damaged", device, box, f"lead {lead.label} is broken: nothing gets through",
        f"lead {lead.label} was broken", odds / 2, effect=Effect("dead", hop), cures=cure, lead=lead.uid,
        shows=((f"whole/{lead.uid}", "damaged"),),
    )  # fmt: skip
    yield Fault(
        f"lead_loose/{lead.uid}", "lead_damaged", device, box, f"lead {lead.label} is damaged: it comes and goes",
        f"lead {lead.label} was damaged", odds, effect=Effect("drops", hop), cures=cure, lead=lead.uid,
        shows=((f"whole/{lead.uid}", "damaged"),),
    )  # fmt: skip
    length = lead.cable.length_mm
    if lead.digital and lead.cable.build != "optical" and (length is None or length > _TRUSTED_MM):
        weight = 0.2 if length is None else 1.0
        yield Fault(
            f"lead_long/{lead.uid}", "lead_long", device, box, f"lead {lead.label} is too long for that rate",
            f"lead {lead.label} was too long for that rate", weight * odds_of("lead_long", box, confirmed=confirmed),
            effect=Effect("drops", hop, brings=(("black_on_start", 0.4), ("reverted", 0.3))), cures=cure, lead=lead.uid,
        )  # fmt: skip


def _plugged(scene: Scene, hop: int, lead: Lead, confirmed: Confirmed) -> Iterator[Fault]:
    """The far end out, in another free input of its box, or changed with its neighbour."""
    rig, inp = scene.layer.rig, scene.path[hop].inp
    device = rig.devices[inp.device]
    odds, box = odds_of("plug", device.profile.kind, confirmed=confirmed), device.profile.kind
    cures = ((plug_back(lead.uid), 0.95),)
    loose: Change = {"op": "move_lead", "layer": "found", "lead": lead.uid, "end": "b", "to": None}
    yield Fault(
        f"plug/{lead.uid}=", "plug", inp.device, box, f"lead {lead.label} is out of {rig.socket_name(inp)}",
        f"lead {lead.label} was out", odds / 2, (loose,), effect=Effect("dead", hop), lead=lead.uid, cures=cures,
        shows=((f"plug/{lead.uid}", "out"),),
    )  # fmt: skip
    port = device.profile.port(inp.port)
    alike = [p for p in device.profile.inputs() if p.id != inp.port and port is not None and p.kind == port.kind]
    free = [p for p in alike if scene.layer.lead_at(Socket(inp.device, p.id)) is None][:_MOST_OTHERS]
    for other in free:
        move: Change = {"op": "move_lead", "layer": "found", "lead": lead.uid, "end": "b",
                        "to": {"device": inp.device, "port": other.id}}  # fmt: skip
        call: Change = {"op": "select_input", "layer": "found", "device": inp.device, "value": other.id}
        yield Fault(
            f"plug/{lead.uid}={other.id}", "plug", inp.device, box,
            f"lead {lead.label} sits in {other.label} of {device.label}, noted {port.label if port else inp.port}",
            f"lead {lead.label} sat in {other.label}", odds / max(1, len(free)), (move, call), lead=lead.uid,
            shows=((f"plug/{lead.uid}", other.id), (f"input/{inp.device}/", other.id)), cures=cures,
        )  # fmt: skip
    taken = [x for p in alike if (x := scene.layer.lead_at(Socket(inp.device, p.id))) is not None][:_MOST_OTHERS]
    for neighbour in taken:
        there = neighbour.ends("found")[1]
        if there is None or neighbour.kind != lead.kind:
            continue
        swap: Change = {"op": "swap_leads", "layer": "found", "end": "b", "leads": [lead.uid, neighbour.uid],
                        "select": [{"device": inp.device, "value": there.port}]}  # fmt: skip
        yield Fault(
            f"swapped/{lead.uid}={neighbour.uid}", "swapped", inp.device, box,
            f"leads {lead.label} and {neighbour.label} are swapped at {device.label}",
            f"leads {lead.label} and {neighbour.label} were swapped",
            odds_of("swapped", box, confirmed=confirmed) / len(taken), (swap,), lead=lead.uid,
            shows=((f"plug/{lead.uid}", there.port), (f"input/{inp.device}/", there.port)), cures=cures,
        )  # fmt: skip
