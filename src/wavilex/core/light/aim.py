"""Which value of the panel light gives a cell the light its room asks for: answered from its readings, or refused with
the reading to take next.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from wavilex.core.gear.cells import REST, read_scope
from wavilex.core.gear.setting import Setting
from wavilex.core.light.curve import FEWEST, Curve, Found, Refusal
from wavilex.core.light.readings import (
    TYPED_ERROR_E4,
    Cell,
    light_cd_m2,
    light_curve,
    main_window,
    measured_peak,
    number_of,
    panel_light,
    patches,
)
from wavilex.core.light.room import Target, Time, target
from wavilex.core.rig.model import Rig

_FIRST_SHARES = tuple(map(Decimal, ("0.5", "0", "1", "0.25", "0.75")))  # of the range, in this order


@dataclass(frozen=True, slots=True)
class Aimed:
    """A cell's answer at a time. value: as the setting has it, where it is found; found: with its interval; said: in
    words; next_value: the reading to take next, None: none is needed, or none would help.
    """

    target: Target
    window: int
    value: str | None
    found: Found | None
    said: str
    next_value: str | None


def aimed(rig: Rig, cell: Cell, time: Time, curve: Curve | None = None) -> Aimed | None:
    """None for a screen that has no panel light to set. curve: where it is worked out already."""
    device = rig.devices[cell.device]
    setting = panel_light(device)
    if setting is None or setting.number is None:
        return None
    asked, window = target(rig, device, time), main_window(rig, cell)
    curve = curve or light_curve(rig, cell, window)
    step, origin = float(setting.number.step), float(setting.number.from_)
    answer = curve.find(float(asked.aim), step, origin) if curve is not None else Refusal("few")
    if isinstance(answer, Refusal):
        value, said = _refused(rig, cell, setting, curve, answer, asked, window)
        return Aimed(asked, window, None, None, said, value)
    value = setting.number.nearest(Decimal(str(answer.value)))
    said = (
        f"{setting.label} {value} gives {answer.light:.0f} cd/m² ({answer.light_low:.0f} to {answer.light_high:.0f}, "
        f"95 %), {asked.aim} asked{' for a guessed room' if asked.guess else ''}; {_span(setting, answer)} would do"
    )
    if any(n.method == "typed" for n in patches(rig, cell, window=window)):
        said += f"; typed readings are taken to err by {TYPED_ERROR_E4 / 100:g} %, a guess"
    more = None if answer.close else value
    if more is not None:
        said += f"; one more reading at {value} makes it surer"
    return Aimed(asked, window, value, answer, said, more)


def _span(setting: Setting, found: Found) -> str:
    assert setting.number is not None
    low, high = (setting.number.nearest(Decimal(str(round(x, 6)))) for x in (found.low, found.high))
    return low if low == high else f"{low} to {high}"


def _refused(
    rig: Rig, cell: Cell, setting: Setting, curve: Curve | None, no: Refusal, asked: Target, window: int
) -> tuple[str | None, str]:
    """The reading to take next, and why nothing is said yet."""
    number = setting.number
    assert number is not None
    read = {number_of(n) for n in patches(rig, cell, window=window)} - {None}
    if no.code == "falls":
        return (
            number.nearest(Decimal(str(no.next_at or 0))),
            "the light falls where more was set, by more than readings err: something else changed between them. "
            "Take that one again",
        )
    if no.code in ("above", "below") and curve is not None:
        low, high = curve.span
        more = no.code == "above"
        end = number.to if more else number.from_
        edge = Decimal(str(high if more else low))
        reach = f"{asked.aim} cd/m² lies {no.code} what was read ({no.most:.0f} at {edge.normalize():f})"
        if (edge >= number.to) if more else (edge <= number.from_):
            verb = "does not get so bright" if more else "does not get so dark"
            return None, f"{reach}, and that is the end of {setting.label}: this screen {verb} in this preset"
        return number.nearest((edge + end) / 2), f"{reach}: nothing is said outside the readings"
    shares = [number.nearest(number.from_ + (number.to - number.from_) * s) for s in _FIRST_SHARES]
    first = next((v for v in shares if float(v) not in read), None)
    left = FEWEST - len(read)
    return (
        first,
        f"{left} more reading{'s' if left != 1 else ''} and it can be said" if read else "nothing was read yet",
    )


def hdr_peak(rig: Rig, device: str, socket: str) -> tuple[int | None, bool]:
    """A screen's brightest HDR white at an input, and whether it was measured in an HDR cell there; else as its EDID or
    profile says.
    """
    best = None
    for scope in dict.fromkeys(n.scope for n in rig.light.values() if n.device == device and n.kind == "patch"):
        spot = read_scope(scope)
        if spot.input == socket and spot.range not in ("", REST):
            note = measured_peak(rig, device, scope)
            if note is not None and (best is None or light_cd_m2(note) > light_cd_m2(best)):
                best = note
    if best is not None:
        return round(light_cd_m2(best)), True
    return rig.peak_cd_m2(device), False
