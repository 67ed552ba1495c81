"""The run sheet as a PDF: a box to tick for every step, its cautions beside it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, tzinfo
from io import BytesIO
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from wavilex.server.paper.page import BOLD, INK, MARGIN, QUIET, RULE, day_time, foot, printable, register, style

_BOX = 4 * mm


class _Tick(Flowable):
    """An empty box to tick, or one ticked already."""

    def __init__(self, done: bool) -> None:
        super().__init__()
        self.done = done
        self.width = self.height = _BOX

    def draw(self) -> None:
        c = self.canv
        c.setStrokeColor(INK)
        c.setLineWidth(0.9)
        c.rect(0, 0, _BOX, _BOX)
        if self.done:
            c.line(0.8 * mm, 2 * mm, 1.7 * mm, 0.9 * mm)
            c.line(1.7 * mm, 0.9 * mm, 3.3 * mm, 3.2 * mm)


def run_sheet_pdf(title: str, made: datetime, sheet: Mapping[str, Any]) -> bytes:
    """The run sheet (as `sheet_data` gives it) on A4. made: when it was printed, in the job's own zone."""
    register()
    out = BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=MARGIN, rightMargin=MARGIN, topMargin=MARGIN, bottomMargin=MARGIN,
        title=f"{title}: run sheet", author="", subject="Run sheet",
    )  # fmt: skip
    head, phase = style("head", 18, font=BOLD), style("phase", 12.5, font=BOLD, before=9)
    quiet = style("quiet", 9.5, color=QUIET)
    hours, minutes = divmod(sheet["minutes_left"], 60)
    about = f"{hours} h {minutes} min" if hours else f"{minutes} min"
    story: list[Flowable] = [
        Paragraph(printable(title), head),
        Paragraph(f"Run sheet, {day_time(made)}. {sheet['open']} steps to go, about {about}; {sheet['done']} done.",
                  quiet),
    ]  # fmt: skip
    for group in sheet["phases"]:
        rows = [_step(step, made.tzinfo) for step in group["steps"]]
        head = [Paragraph(printable(group["title"]), phase), *_looked_for(group, style("usual", 9.5))]
        story.append(KeepTogether([*head, Spacer(1, 2 * mm), rows[0]]))
        story += rows[1:]
    document.build(story, onFirstPage=foot(title), onLaterPages=foot(title))
    return out.getvalue()


def _looked_for(said: Mapping[str, Any], look: ParagraphStyle) -> list[Flowable]:
    """What to see and what if not, of a step, or once for a phase."""
    return [
        Paragraph(f"<font name='{BOLD}'>{word}:</font> {printable(text)}", look)
        for word, text in (("See", said["see"]), ("If not", said["if_not"])) if text
    ]  # fmt: skip


def _step(step: Mapping[str, Any], zone: tzinfo | None) -> Flowable:
    name, small = style("step", 11, font=BOLD), style("small", 9.5)
    quiet = style("why", 9.5, color=QUIET)
    cell: list[Flowable] = [Paragraph(printable(step["title"]), name)]
    if step["open"]:
        where = [step["where"], step["stands"], f"{step['minutes']} min" if step["minutes"] else "", step["why"]]
        cell.append(Paragraph(printable(" · ".join(w for w in where if w)), quiet))
        cell += [] if step["usual"] else _looked_for(step, small)
        if step["keep"]:
            cell.append(Paragraph("Keep it only with a picture. If it reverts, note it: that is evidence.", small))
        if step["wait_s"]:
            cell.append(Paragraph(f"Wait {step['wait_s']} s.", small))
        for c in step["cautions"]:
            said = f"{c['name']}, as said before" if c["again"] else c["text"]
            cell.append(Paragraph(f"<font name='{BOLD}'>Caution:</font> {printable(said)}", small))
    elif step["at"]:
        cell.append(Paragraph(f"done {day_time(datetime.fromisoformat(step['at']).astimezone(zone))}", quiet))
    table = Table(
        [[_Tick(not step["open"]), cell]], colWidths=[8 * mm, A4[0] - 2 * MARGIN - 12 - 8 * mm], hAlign="LEFT"
    )
    table.setStyle(TableStyle([
        ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE),
        ("LEFTPADDING", (0, 0), (-1, -1), 0), ("TOPPADDING", (0, 0), (-1, -1), 4),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 4),
    ]))  # fmt: skip
    return table
