"""Device-control addresses: who is where behind a screen. Source: HDMI 1.4b, device control (CEC), value from memory.

The display is 0.0.0.0, its input n is n.0.0.0; each repeater fills the next zero with its own input's number and
rewrites what it passes; there are four levels, and what hangs deeper has no address (F.F.F.F).
"""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.chain.paths import Layer
from wavilex.core.rig.model import Socket

LEVELS = 4
NONE = "F.F.F.F"


@dataclass(frozen=True, slots=True)
class Address:
    """A box and its address behind a screen; fault says what is wrong with it, "" for nothing."""

    device: str
    address: str
    fault: str = ""


def addresses(layer: Layer, screen: str) -> list[Address]:
    """Every box behind a screen, the screen first. A repeater that does not rewrite hands its own on: a clash."""
    found = [Address(screen, "0.0.0.0")]
    taken = {"0.0.0.0"}

    def walk(device: str, digits: tuple[int, ...]) -> None:
        profile = layer.rig.devices[device].profile
        for number, port in enumerate(profile.inputs(), 1):
            lead = layer.lead_at(Socket(device, port.id))
            above = lead.ends(layer.name)[0] if lead else None
            if above is None or port.kind != "hdmi":
                continue
            under = (*digits, number) if profile.rewrites_address else digits
            deep = len(under) > LEVELS
            text = NONE if deep else ".".join(str(n) for n in (*under, *(0,) * (LEVELS - len(under))))
            fault = f"more than {LEVELS} boxes deep: device control does not reach it" if deep else ""
            if not deep and text in taken:
                fault = f"shares its address: {layer.rig.devices[device].label} does not give its own"
            found.append(Address(above.device, text, fault))
            taken.add(text)
            if layer.rig.devices[above.device].profile.role == "repeater" and len(under) <= LEVELS + 1:
                walk(above.device, under)

    walk(screen, ())
    return found
