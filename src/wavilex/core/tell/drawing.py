"""The whole rig as a drawing: SVG laid out in columns by role, and Graphviz DOT. Text out; nothing is judged here."""

from __future__ import annotations

from dataclasses import dataclass
from xml.sax.saxutils import escape, quoteattr

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.link.words import cable_text
from wavilex.core.plain import cell_text
from wavilex.core.rig.hanging import Hanging, hanging
from wavilex.core.rig.model import Device, Lead, Socket
from wavilex.core.tell.codes import codes_of
from wavilex.core.tell.shapes import ScheduleRow

_BOX, _ROW, _HEAD, _GAP, _LANE_SPACE = 190, 20, 28, 16, 120
_INK, _PAPER, _RULE, _BLOCKED = "#1d2530", "#ffffff", "#8a8374", "#a1261c"
_DASHES = {"analogue": "10 3 2 3", "audio": "2 3", "power": "1 5"}
_LAST = 99


@dataclass(frozen=True, slots=True)
class _Placed:
    device: Device
    x: int
    y: int

    def row(self, port: str) -> int:
        number = next(n for n, p in enumerate(self.device.profile.ports) if p.id == port)
        return self.y + _HEAD + _ROW * number + _ROW // 2

    @property
    def height(self) -> int:
        return _HEAD + _ROW * len(self.device.profile.ports) + 6


def columns(layer: Layer) -> dict[str, int]:
    """The column of each box: sources first, boxes by how far behind a source they stand, screens and sound last."""
    found: dict[str, int] = {}
    feeds: dict[str, list[str]] = {}
    for lead in layer.rig.leads.values():
        a, b = lead.ends(layer.name)
        if a and b and lead.kind != "audio":
            feeds.setdefault(b.device, []).append(a.device)

    def depth(uid: str, seen: tuple[str, ...]) -> int:
        if layer.rig.devices[uid].profile.role != "repeater" or uid in seen:
            return 0
        return 1 + max((depth(f, (*seen, uid)) for f in feeds.get(uid, ())), default=0)

    for uid, device in layer.rig.devices.items():
        role = device.profile.role
        found[uid] = 0 if role == "source" else _LAST if role in ("screen", "sound") else depth(uid, ())
    last = 1 + max((c for c in found.values() if c != _LAST), default=0)
    return {uid: last if c == _LAST else c for uid, c in found.items()}


def _place(layer: Layer) -> dict[str, _Placed]:
    at = columns(layer)
    tops: dict[int, int] = {}
    placed = {}
    for room in dict.fromkeys(d.room for d in layer.rig.devices.values()):
        start = max(tops.values(), default=44) + (18 if tops else 0)
        tops = dict.fromkeys(range(max(at.values(), default=0) + 1), start)
        for uid, device in layer.rig.devices.items():
            if device.room != room:
                continue
            box = _Placed(device, 20 + at[uid] * (_BOX + _LANE_SPACE), tops[at[uid]])
            placed[uid] = box
            tops[at[uid]] += box.height + _GAP
    return placed


def _marks(layer: Layer) -> dict[str, tuple[str, str]]:
    """For each lead its verdict and the share of it used, over all runs."""
    worst: dict[str, tuple[str, str]] = {}
    most: dict[str, float] = {}
    for run in layer.rig.runs.values():
        for link in run_result(layer, run).links:
            used = link.wanted.used_percent
            if used is not None and used >= most.get(link.hop.lead, -1):
                most[link.hop.lead] = used
                worst[link.hop.lead] = (link.wanted.verdict, f"{used:.0f} %")
    return worst


def svg(layer: Layer) -> str:
    """The rig as a stand-alone SVG, black on white, readable in print and in grey."""
    placed = _place(layer)
    marks = _marks(layer)
    width = max((b.x for b in placed.values()), default=0) + _BOX + 60
    height = max((b.y + b.height for b in placed.values()), default=60) + 30
    lanes: dict[int, int] = {}
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" viewBox="0 0 {width} {height}" '
        'font-family="sans-serif" font-size="12">',
        f'<rect width="{width}" height="{height}" fill="{_PAPER}"/>',
        f'<text x="20" y="24" font-size="16" font-weight="bold" fill="{_INK}">{escape(layer.rig.title)}</text>',
    ]
    for lead in layer.rig.leads.values():
        parts += _wire(layer, placed, lead, marks.get(lead.uid, ("", "")), lanes)
    for box in placed.values():
        parts += _box(box, layer)
    return "\n".join([*parts, "</svg>"]) + "\n"


def _box(box: _Placed, layer: Layer) -> list[str]:
    out = [
        f"<g aria-label={quoteattr(box.device.label)}>",
        f'<rect x="{box.x}" y="{box.y}" width="{_BOX}" height="{box.height}" fill="{_PAPER}" stroke="{_INK}"/>',
        f'<text x="{box.x + 8}" y="{box.y + 18}" font-weight="bold" fill="{_INK}">{escape(box.device.label)}</text>',
    ]
    for port in box.device.profile.ports:
        used = layer.lead_at(Socket(box.device.uid, port.id)) is not None
        x, anchor = (box.x + _BOX - 8, "end") if port.direction == "out" else (box.x + 8, "start")
        weight = ' font-weight="bold"' if used else ""
        out.append(
            f'<text x="{x}" y="{box.row(port.id) + 4}" text-anchor="{anchor}"{weight} fill="{_INK}">'
            f"{escape(port.label)}</text>"
        )
    return [*out, "</g>"]


def _wire(
    layer: Layer, placed: dict[str, _Placed], lead: Lead, mark: tuple[str, str], lanes: dict[int, int]
) -> list[str]:
    a, b = lead.ends(layer.name)
    if a is None or b is None:
        return []
    start, end = placed[a.device], placed[b.device]
    y1, y2 = start.row(a.port), end.row(b.port)
    verdict, used = mark
    colour = _BLOCKED if verdict == "blocked" else _INK
    dash = "8 4" if verdict == "blocked" else _DASHES.get(lead.kind, "")
    x1 = start.x + _BOX
    lane = lanes.get(x1, 0)
    lanes[x1] = lane + 1
    if end.x <= start.x:  # back over the return channel, or to sound below: by the right-hand side
        x2, turn = end.x + _BOX, max(x1, end.x + _BOX) + 12 + 6 * (lane % 6)
    else:
        x2, turn = end.x, x1 + 44 + 7 * (lane % 10)
    style = f'fill="none" stroke="{colour}" stroke-width="2"' + (f' stroke-dasharray="{dash}"' if dash else "")
    said = f"{lead.label} {used}".strip()
    return [
        f'<path d="M{x1} {y1}H{turn}V{y2}H{x2}" {style}/>',
        f'<text x="{x1 + 4}" y="{y1 - 4}" font-size="11" fill="{colour}">{escape(said)}</text>',
    ]


def dot(layer: Layer) -> str:
    """The rig for Graphviz: boxes as records with their sockets, leads as edges with label, class and length."""
    rig = layer.rig
    lines = [f"digraph {_quoted(rig.title)} {{", "  rankdir=LR;", "  node [shape=record];"]
    for uid, device in rig.devices.items():
        sides = {
            way: "|".join(f"<{p.id}> {_record(p.label)}" for p in device.profile.ports if p.direction == way)
            for way in ("in", "out")
        }
        lines.append(f'  {_quoted(uid)} [label="{{{{{sides["in"]}}}|{_record(device.label)}|{{{sides["out"]}}}}}"];')
    marks = _marks(layer)
    for lead in rig.leads.values():
        a, b = lead.ends(layer.name)
        if a is None or b is None:
            continue
        length = f", {lead.cable.length_mm / 1000:g} m" if lead.cable.length_mm else ""
        kind = cable_text(lead.cable) if lead.digital else lead.kind
        style = ", style=dashed" if marks.get(lead.uid, ("", ""))[0] == "blocked" else ""
        style = ", style=dotted" if lead.kind == "audio" else style
        label = _quoted(f"{lead.label}: {kind}{length}")
        lines.append(f"  {_end(a)} -> {_end(b)} [label={label}{style}];")
    return "\n".join([*lines, "}"]) + "\n"


def _end(socket: Socket) -> str:
    return f"{_quoted(socket.device)}:{_quoted(socket.port)}"


def _quoted(text: str) -> str:
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


def _record(text: str) -> str:
    """A text inside a record label: its special signs escaped."""
    return "".join("\\" + c if c in '{}|<> "\\' else c for c in text)


_STATES: dict[Hanging, str] = {"as_found": "as found", "unnoted": "not noted"}


def schedule(layer: Layer) -> list[ScheduleRow]:
    """The cable schedule: a row a lead, with the label to stick on each end."""
    rows: list[ScheduleRow] = []
    codes = codes_of(layer.rig)
    for lead in layer.rig.leads.values():
        a, b = lead.ends(layer.name)
        names = [layer.rig.socket_name(s) if s else "loose" for s in (a, b)]
        rooms = [layer.rig.devices[s.device].room if s else "" for s in (a, b)]
        rows.append({
            "lead": lead.label, "code": codes.leads[lead.uid], "kind": lead.kind, "plug": _plug(layer, a or b),
            "start": names[0], "start_room": rooms[0], "label_from": f"{lead.label} → {names[1]}",
            "to": names[1], "to_room": rooms[1], "label_to": f"{lead.label} ← {names[0]}",
            "length_m": f"{lead.cable.length_mm / 1000:g}" if lead.cable.length_mm else "",
            "klass": cable_text(lead.cable) if lead.digital else "",
            "proved": lead.cable.proved or "", "state": _STATES.get(hanging(layer.rig, lead), "to wire"),
        })  # fmt: skip
    return rows


def _plug(layer: Layer, socket: Socket | None) -> str:
    port = layer.rig.devices[socket.device].profile.port(socket.port) if socket else None
    return port.plug if port else ""


def schedule_csv(layer: Layer) -> str:
    """The schedule as CSV (RFC 4180), a heading row first. Cells that a spreadsheet would run are quoted as text."""
    import csv
    from io import StringIO

    rows = schedule(layer)
    out = StringIO()
    head = list(rows[0]) if rows else ["lead", "kind", "plug", "start", "to", "length_m", "klass"]
    writer = csv.DictWriter(out, head, lineterminator="\r\n")
    writer.writeheader()
    for row in rows:
        writer.writerow({k: cell_text(str(v)) for k, v in row.items()})
    return out.getvalue()
