"""The hand-over as a PDF: the client's page first and by itself, then the technician's pages."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import datetime
from io import BytesIO
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.platypus import (
    Flowable,
    KeepInFrame,
    KeepTogether,
    PageBreak,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)

from wavilex.core.tell.hand_shapes import ClientPage, HandoverOut, HandSetting, PanelOut
from wavilex.server.paper.page import (
    BOLD,
    INK,
    MARGIN,
    QUIET,
    RULE,
    Tagged,
    TaggedCanvas,
    day_time,
    foot,
    joined,
    printable,
    register,
    style,
)

_WIDTH = A4[0] - 2 * MARGIN - 12  # the frame's own padding is 6 points a side
_HEAD, _PART = style("head", 20, font=BOLD), style("part", 13, font=BOLD, before=8)
_BODY, _SMALL, _CELL = style("body", 11), style("small", 9.5, color=QUIET), style("cell", 9)
_STRONG = style("strong", 9, font=BOLD)
_LARGE = style("large", 12)
_SOCKET, _SOCKETS_A_ROW = 25 * mm, 6


def hand_over_pdf(told: HandoverOut, made: datetime, link: str = "", *, client_only: bool = False) -> bytes:
    """The hand-over on A4. made: when, in the job's own zone; link: where the client reads it, "" nowhere."""
    register()
    out = BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=MARGIN, rightMargin=MARGIN, topMargin=MARGIN, bottomMargin=MARGIN,
        title=f"{told['title']}: hand-over", author="", subject="Hand-over", lang="en", invariant=1,
    )  # fmt: skip
    front = list(_client(told["title"], told["client"], made, link))
    story: list[Flowable] = [KeepInFrame(_WIDTH, A4[1] - 2 * MARGIN - 14, front, mode="shrink")]  # one page, whatever
    story += [] if client_only else [PageBreak(), *_technician(told, made)]
    mark = foot(f"{told['title']}, hand-over of {made:%-d %B %Y}")
    document.build(story, onFirstPage=mark, onLaterPages=mark, canvasmaker=TaggedCanvas)
    return out.getvalue()


def _client(title: str, page: ClientPage, made: datetime, link: str) -> Iterator[Flowable]:
    """One page, in large type."""
    yield Tagged(title, _HEAD, "H1")
    yield Tagged(f"How it is used. {made:%-d %B %Y}.", _SMALL)
    yield Tagged("What plays where", _PART, "H2")
    rows = [
        [_cell(r["what"], bold=True), _cell("; ".join(r["press"])), _cell(joined(r["picture"], r["sound"]))]
        for r in page["plays"]
    ]
    yield _table(["To play on", "call up", "Picture and sound"], rows, (0.24, 0.34, 0.42))
    for line in page["not_yet"]:
        yield Tagged(line, _SMALL)
    if page["leave"] or page["yours"]:
        yield Tagged("What not to touch", _PART, "H2")
        yield from (Tagged(f"• {x}", _BODY, "LI") for x in page["leave"])
        yield from (Tagged(f"• {x}", _BODY, "LI") for x in page["yours"])
    yield Tagged(page["updates"], _BODY)
    yield Tagged("When it goes black", _PART, "H2")
    yield from (Tagged(f"{n}. {x}", _LARGE, "LI") for n, x in enumerate(page["black"], 1))
    yield Tagged("Take care", _PART, "H2")
    yield from (Tagged(f"• {x}", _BODY, "LI") for x in page["cautions"])
    if link:
        text = f'This page is also at <a href="{printable(link)}" color="#1a4fa3">{printable(link)}</a>'
        yield Tagged(text, _SMALL, plain=False)


def _technician(told: HandoverOut, made: datetime) -> Iterator[Flowable]:
    yield Tagged(f"{told['title']}: for the technician", _HEAD, "H1")
    yield Tagged(f"As of {day_time(made)}", _SMALL)
    if told["open"]:
        yield Tagged("Still open", _PART, "H2")
        yield from (Tagged(f"• {x}", _BODY, "LI") for x in told["open"])
    yield from _improved(told)
    yield Tagged("What each run carries, and why it fits", _PART, "H2")
    yield _table(["Run", "Signal", "Why"], [
        [_cell(f"{r['label']}: {r['path']}"), _cell(", ".join([f"{r['verdict']}: {r['signal']}", *r["with_"]])),
         _cell(joined(r["why"], f"Sound: {r['sound']}" if r["sound"] else ""))]
        for r in told["runs"]
    ], (0.34, 0.26, 0.4))  # fmt: skip
    yield Tagged("Wiring", _PART, "H2")
    yield _table(["Lead", "Code", "From", "To", "Certified", "m", "Change"], [
        [_cell(w["label"], bold=True), _cell(w["code"]), _cell(w["start"]), _cell(w["end"]), _cell(w["grade"]),
         _cell(w["length_m"]), _cell(w["change"] or "as found")] for w in told["wiring"]
    ], (0.08, 0.09, 0.2, 0.2, 0.17, 0.08, 0.18))  # fmt: skip
    yield Tagged("Backs of the boxes, as planned", _PART, "H2")
    for panel in told["panels"]:
        yield from _panel(panel)
    yield from _settings(told["settings"])
    yield from _rest(told)


def _improved(told: HandoverOut) -> Iterator[Flowable]:
    """What stands otherwise than when the job was first found."""
    if told["improved"]:
        yield Tagged(f"Since the first visit, {told['since'][:10]}", _PART, "H2")
        yield _table(["What", "Was", "Is"], [
            [_cell(r["what"]), _cell(r["was"]), _cell(_with(r["now"], r["says"]))]
            for r in told["improved"]
        ], (0.34, 0.3, 0.36))  # fmt: skip


def _with(text: str, beside: str) -> str:
    return f"{text} ({beside})" if beside else text


def _panel(panel: PanelOut) -> Iterator[Flowable]:
    """A box's back: a field a socket, with the lead in it."""
    name = f"{panel['device']} ({panel['code']})" + (f", {panel['room']}" if panel["room"] else "")
    cells: list[Any] = [
        [Tagged(s["label"], _STRONG, "TD"),
         *([Tagged(f"{s['lead']} {s['code']}", _CELL, "TD"), Tagged(s["to"], style("to", 7.5, color=QUIET), "TD")]
           if s["lead"] else [])]
        for s in panel["sockets"]
    ]  # fmt: skip
    rows = [cells[n : n + _SOCKETS_A_ROW] for n in range(0, len(cells), _SOCKETS_A_ROW)]
    for row in rows:
        row += [""] * (min(_SOCKETS_A_ROW, len(cells)) - len(row))
    table = Table(rows, colWidths=[_SOCKET] * len(rows[0]), hAlign="LEFT")
    look: list[Any] = [("VALIGN", (0, 0), (-1, -1), "TOP"), ("GRID", (0, 0), (-1, -1), 0.4, RULE)]
    for n, s in enumerate(panel["sockets"]):
        if s["lead"]:
            at = (n % _SOCKETS_A_ROW, n // _SOCKETS_A_ROW)
            look.append(("BOX", at, at, 1.2, INK))
    table.setStyle(TableStyle([*look, *_TIGHT]))
    yield KeepTogether([Tagged(name, style("box", 10, font=BOLD, before=4), "H3"), Spacer(1, 1 * mm), table])


_TIGHT = [("LEFTPADDING", (0, 0), (-1, -1), 3), ("RIGHTPADDING", (0, 0), (-1, -1), 3),
          ("TOPPADDING", (0, 0), (-1, -1), 2), ("BOTTOMPADDING", (0, 0), (-1, -1), 2)]  # fmt: skip


def _settings(rows: Sequence[HandSetting]) -> Iterator[Flowable]:
    yield Tagged("Settings, as found and as planned", _PART, "H2")
    yield _table(["At", "Setting", "Found", "Planned", "Seen so"], [
        [_cell(", ".join(x for x in (r["device"], r["socket"]) if x)),
         _cell(_with(r["setting"], r["where"])), _cell(r["found"]),
         _cell(r["plan"] or f"factory: {r['factory']}", bold=r["make"]), _cell(_stands(r))] for r in rows
    ], (0.26, 0.32, 0.14, 0.16, 0.12))  # fmt: skip


def _stands(r: HandSetting) -> str:
    if r["found"] == "not seen":
        return "nobody looked"
    return "to set" if r["make"] else "yes"


def _rest(told: HandoverOut) -> Iterator[Flowable]:
    """Firmware, what was seen, lag, light, cautions."""
    if told["firmware"]:
        yield Tagged("Firmware as read", _PART, "H2")
        yield Tagged("; ".join(f"{f['device']} {f['version']}" for f in told["firmware"]), _BODY)
        yield from (
            Tagged(f"• {u['device']}: from {u['found']} to {u['plan']}; then look at its settings again.", _BODY, "LI")
            for u in told["updates"]
        )
    yield Tagged("What was seen", _PART, "H2")
    for s in told["seen"]:
        looked = f"{s['seen']} of {s['of']} lines as predicted" if s["seen"] else "nobody has looked"
        more = [*s["otherwise"], *s["stale"], *([s["rate"]] if s["rate"] else [])]
        yield Tagged(f"• {s['run']}: {'. '.join([looked, *(['; '.join(more)] if more else [])])}", _BODY, "LI")
    if told["lag"]:
        yield Tagged("Lag", _PART, "H2")
        yield _table(["Screen", "In", "Lag", "Of", "How"], [
            [_cell(x["device"]), _cell(x["condition"]), _cell(f"{x['text']}. {x['judged']}"), _cell(str(x["count"])),
             _cell(x["method"])] for x in told["lag"]
        ], (0.18, 0.26, 0.32, 0.07, 0.17))  # fmt: skip
    if told["light"]:
        yield Tagged("Light", _PART, "H2")
        yield from (
            Tagged(f"• {x['device']}, {x['cell']}: {'; '.join(x['lines'])}", _BODY, "LI") for x in told["light"]
        )
    yield Tagged("Take care", _PART, "H2")
    yield from (Tagged(f"• {c}", _BODY, "LI") for c in told["cautions"])


def _cell(text: str, *, bold: bool = False) -> Tagged:
    return Tagged(text, _STRONG if bold else _CELL, "TD")


def _table(heads: Sequence[str], rows: Sequence[Sequence[Flowable]], shares: Sequence[float]) -> Flowable:
    table = Table(
        [[Tagged(h, style("th", 8.5, font=BOLD, color=QUIET), "TH") for h in heads], *rows],
        colWidths=[_WIDTH * s for s in shares], repeatRows=1, hAlign="LEFT",
    )  # fmt: skip
    table.setStyle(TableStyle([
        ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE), *_TIGHT,
    ]))  # fmt: skip
    return table
