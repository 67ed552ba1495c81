"""Readings of a screen's light by cell: which belong together, which have grown stale, and the curve they make.

Readings of another box, input, range, preset, window or level of signal never mix. One grows stale when a setting it
rests on changes; by eye is a guess and stands in no curve.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal

from wavilex.core.chain.paths import Layer
from wavilex.core.gear.cells import Spot, StoredBy
from wavilex.core.gear.setting import Setting
from wavilex.core.light.curve import Curve, Point
from wavilex.core.rig.grounds import Changed, changed_since
from wavilex.core.rig.light_notes import ALL_SIGNAL, UCD, LightNote
from wavilex.core.rig.model import Device, Rig
from wavilex.core.rig.ops import LightKind

CELL: tuple[StoredBy, ...] = ("input", "range", "mode")
USUAL_WINDOW = 10  # percent of the picture that a patch of white fills, where nobody says: common practice
TYPED_ERROR_E4 = 200  # of a figure read off a meter: a guess, 2 %
EYE_ERROR_E4 = 2500  # of a comparison by eye: a guess, a quarter
# what else changes the light of a cell: a reading rests on these
_MATTER = (
    "preset", "game_mode", "tone_mapping", "dimming", "room_light", "black_frames", "shadow_lift", "contrast",
    "black_level", "hdr", "processing",
)  # fmt: skip
_WHITE_TOO = ("warmth",)


@dataclass(frozen=True, slots=True)
class Cell:
    """Where light is measured: a screen, and what it keeps its light apart by. scope: as gear/cells writes it."""

    device: str
    scope: str


def kept_by(device: Device) -> tuple[StoredBy, ...]:
    """What tells readings of a screen apart: input, range and preset, and what else its panel light is kept by."""
    light = panel_light(device)
    return tuple(dict.fromkeys((*CELL, *(light.dimensions if light else ()))))


def panel_light(device: Device) -> Setting | None:
    """The setting that makes a screen brighter as a whole, whatever its profile calls it."""
    return next((s for s in device.profile.settings if s.effect == "panel_light"), None)


def scope_at(device: Device, spot: Spot) -> str:
    """The scope of the cell a spot lies in."""
    return spot.kept(kept_by(device))


def notes_of(rig: Rig, device: str, kind: LightKind, scope: str | None = None) -> Iterator[LightNote]:
    """Light notes of a box of one kind, as they were made; scope None: of any cell."""
    for note in rig.light.values():
        if note.device == device and note.kind == kind and scope in (None, note.scope):
            yield note


def stale(rig: Rig, note: LightNote) -> list[Changed]:
    """What a note rests on that stands otherwise now."""
    device = rig.devices.get(note.device)
    found = changed_since(rig, note.grounds)
    if device is not None and note.firmware and device.firmware not in ("", note.firmware):
        found.append(Changed(f"firmware/{device.uid}", f"firmware of {device.label}", note.firmware, device.firmware))
    return found


def grounds_at(layer: Layer, device: Device, spot: Spot, *, white: bool = False) -> dict[str, str]:
    """What a note made at a spot rests on: settings that change its light, as found. white: its colour counts too."""
    out = {}
    effects = _MATTER + (_WHITE_TOO if white else ())
    for setting in device.profile.settings:
        if setting.effect not in effects or (setting.ports and spot.input not in setting.ports):
            continue
        scope = spot.kept(setting.dimensions)
        value = layer.rig.setting_value("found", device.uid, scope, setting)
        if value is not None:
            out[f"setting/{device.uid}/{scope}/{setting.id}"] = value
    return out


def light_cd_m2(note: LightNote) -> float:
    return note.must("luminance_ucd_m2") / UCD


def error_of(note: LightNote) -> float:
    """Standard error of a reading's light in cd/m²: its share of it, and half a microcandela of rounding."""
    return max(light_cd_m2(note) * note.must("error_e4") / 10_000, 1e-6)


def patches(rig: Rig, cell: Cell, *, window: int | None = None, signal_e4: int | None = ALL_SIGNAL) -> list[LightNote]:
    """Readings of a cell that still hold, no guesses by eye; of one window, of one level of signal, where asked."""
    return [
        n
        for n in notes_of(rig, cell.device, "patch", cell.scope)
        if (window is None or n.figure("window_percent") == window)
        and (signal_e4 is None or n.figure("signal_e4") == signal_e4)
        and n.method != "eye"
        and not stale(rig, n)
    ]


def windows_read(rig: Rig, cell: Cell) -> Mapping[int, list[LightNote]]:
    """Readings of full white by window, smallest first."""
    out: dict[int, list[LightNote]] = {}
    for n in patches(rig, cell):
        out.setdefault(n.must("window_percent"), []).append(n)
    return dict(sorted(out.items()))


def number_of(note: LightNote) -> float | None:
    """The panel light's number a reading was taken at; None where the screen has none or nobody said."""
    try:
        return float(Decimal(note.value)) if note.value else None
    except ArithmeticError:
        return None


def light_curve(rig: Rig, cell: Cell, window: int) -> Curve | None:
    """Panel light to cd/m² of full white in a cell; None with readings at fewer than two values."""
    points = [
        Point(at, light_cd_m2(n), error_of(n))
        for n in patches(rig, cell, window=window)
        if (at := number_of(n)) is not None and light_cd_m2(n) > 0
    ]
    return Curve(points) if len({p.at for p in points}) > 1 else None


def main_window(rig: Rig, cell: Cell) -> int:
    """The window most of a cell's readings are of; the usual one where there are none."""
    read = windows_read(rig, cell)
    return max(read, key=lambda w: (len({n.value for n in read[w]}), len(read[w]), -w), default=USUAL_WINDOW)


def measured_peak(rig: Rig, device: str, scope: str) -> LightNote | None:
    """The brightest full white that was measured in a cell and still holds, whatever its window."""
    return max(patches(rig, Cell(device, scope)), key=light_cd_m2, default=None)
