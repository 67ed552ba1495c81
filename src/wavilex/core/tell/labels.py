"""Labels for leads and boxes: what stands on each, on sheets of common sizes, and as lines for a label printer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from wavilex.core.rig.model import Rig
from wavilex.core.tell.codes import codes_of
from wavilex.core.tell.hand_shapes import LabelOut

UM = 1000  # µm in a mm


@dataclass(frozen=True, slots=True)
class LabelSheet:
    """A sheet of labels on A4, in µm: columns and rows, a label's size, the margins, from one label to the next."""

    name: str
    columns: int
    rows: int
    width_um: int
    height_um: int
    left_um: int
    top_um: int
    step_x_um: int
    step_y_um: int

    @property
    def count(self) -> int:
        return self.columns * self.rows


# Common sizes of self-adhesive A4 sheets; common practice: the figures are those printed on the packs of many makers.
SHEETS: Mapping[str, LabelSheet] = {
    "24": LabelSheet("24 to a sheet, 70 × 37 mm", 3, 8, 70 * UM, 37 * UM, 0, 500, 70 * UM, 37 * UM),
    "21": LabelSheet("21 to a sheet, 63.5 × 38.1 mm", 3, 7, 63_500, 38_100, 7_250, 15_150, 66_000, 38_100),
    "65": LabelSheet("65 to a sheet, 38.1 × 21.2 mm", 5, 13, 38_100, 21_200, 4_750, 10_700, 40_600, 21_200),
    "189": LabelSheet("189 to a sheet, 25.4 × 10 mm", 7, 27, 25_400, 10_000, 8_500, 13_500, 27_900, 10_000),
}


def labels(rig: Rig) -> list[LabelOut]:
    """A label for each end of every lead, and one for every box, in the order of the schedule."""
    codes = codes_of(rig)
    out: list[LabelOut] = []
    for uid, lead in rig.leads.items():
        names = [rig.socket_name(s) if s else "loose" for s in lead.plan]
        for here, there in ((0, 1), (1, 0)):
            out.append({
                "kind": "lead", "code": codes.leads[uid], "name": lead.label, "text": f"to {names[there]}",
                "line": f"{codes.leads[uid]} {lead.label} to {names[there]}", "at": names[here],
            })  # fmt: skip
    for uid, device in rig.devices.items():
        room = f", {device.room}" if device.room else ""
        out.append({
            "kind": "box", "code": codes.boxes[uid], "name": device.label, "text": device.room,
            "line": f"{codes.boxes[uid]} {device.label}{room}", "at": "",
        })  # fmt: skip
    return out


def label_lines(rig: Rig) -> str:
    """One line a label, for a label printer's own program."""
    return "".join(f"{x['line']}\n" for x in labels(rig))
