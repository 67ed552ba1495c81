"""What a light meter is told stands before it, in the words of docs/formats/light-meter.md."""

from __future__ import annotations

from decimal import Decimal, InvalidOperation

from wavilex.core.gear.cells import REST, read_scope
from wavilex.core.light.readings import panel_light
from wavilex.core.rig.model import Device


def label_of(device: Device, scope: str, value: str, window_percent: int, signal_e4: int, warmth: str) -> str:
    """Panel light as a share of its range, all of it where nobody said; window, signal, range, preset, white."""
    spot = read_scope(scope)
    words = [f"panel_light={_share(device, value):.4f}", f"window={window_percent}", f"signal_e4={signal_e4}",
             f"hdr={int(spot.range not in ('', REST))}"]  # fmt: skip
    words += [f"preset={spot.mode}"] if spot.mode else []
    words += [f"warmth={warmth}"] if warmth else []
    return " ".join(words)


def _share(device: Device, value: str) -> float:
    setting = panel_light(device)
    try:
        at = Decimal(value.strip().replace(",", "."))
    except InvalidOperation:
        return 1.0
    if setting is None or setting.number is None or not at.is_finite():
        return 1.0
    number = setting.number
    return min(max(float((at - number.from_) / (number.to - number.from_)), 0.0), 1.0)
