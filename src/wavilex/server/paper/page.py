"""What every printed page has: the shipped fonts, styles, a foot, and tags that tell a reading program what is what.

Tags (ISO 32000-1, 14.7 and 14.8): every paragraph is marked content of a structure element; lines and the foot are
artefacts. The library draws no tags itself; they are set around what it draws.
"""

from __future__ import annotations

from datetime import datetime
from functools import cache
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.pdfdoc import PDFArray, PDFDictionary, PDFName
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph

FONTS = Path(__file__).parent / "fonts"
TEXT, BOLD = "wavilex-text", "wavilex-bold"
INK, QUIET, RULE = colors.HexColor("#1a211c"), colors.HexColor("#4d584f"), colors.HexColor("#b9c2ba")
MARGIN = 18 * mm


@cache
def register() -> None:
    """The two fonts, once a process."""
    pdfmetrics.registerFont(TTFont(TEXT, FONTS / "regular.ttf"))
    pdfmetrics.registerFont(TTFont(BOLD, FONTS / "bold.ttf"))


def style(name: str, size: float, *, font: str = TEXT, color: Any = INK, before: float = 0) -> ParagraphStyle:
    return ParagraphStyle(name, fontName=font, fontSize=size, leading=size * 1.3, textColor=color, spaceBefore=before)


def printable(text: str) -> str:
    """Text the printed font has every sign of: an arrow is written as a word."""
    return escape(text.replace(" → ", " to ").replace("→", " to ").replace("↻", "").replace("−", "-"))


def joined(*parts: str) -> str:
    """Sentences one after the other, each with one full stop."""
    return " ".join(p if p.endswith((".", "!", "?")) else f"{p}." for p in (x.strip() for x in parts) if p)


def day_time(at: datetime) -> str:
    return f"{at:%-d %B %Y, %H:%M}"


class Tagged(Paragraph):
    """A paragraph that a reading program knows for what it is: P, H1, H2, LI, TH, TD."""

    def __init__(self, text: str, look: ParagraphStyle, tag: str = "P", *, plain: bool = True) -> None:
        super().__init__(printable(text) if plain else text, look)
        self.tag = tag

    def split(self, avail_width: float, avail_height: float) -> list[Any]:
        parts: list[Any] = super().split(avail_width, avail_height)
        for part in parts:
            part.tag = self.tag
        return parts

    def draw(self) -> None:
        canvas = self.canv
        begin = getattr(canvas, "begin_tag", None)
        if begin is None:
            super().draw()
            return
        begin(self.tag)
        super().draw()
        canvas.end_tag()


class TaggedCanvas(Canvas):
    """A canvas that keeps what was marked on each page and writes the document's structure at its end."""

    def __init__(self, *args: Any, **more: Any) -> None:
        super().__init__(*args, **{**more, "lang": "en"})
        self._refs: list[Any] = []  # of each page
        self._marks: list[list[str]] = [[]]  # of each page, the tags in the order they were drawn: their MCIDs

    def begin_tag(self, tag: str) -> None:
        self._code.append(f"/{tag} <</MCID {len(self._marks[-1])}>> BDC")
        self._marks[-1].append(tag)

    def end_tag(self) -> None:
        self._code.append("EMC")

    def begin_artifact(self) -> None:
        self._code.append("/Artifact BMC")

    def showPage(self) -> None:
        self._refs.append(self._doc.thisPageRef())
        super().showPage()
        page = self._doc.Pages.pages[-1]
        page.StructParents = len(self._marks) - 1
        page.__NoDefault__ = [*page.__NoDefault__, "StructParents", "Tabs"]
        page.Tabs = PDFName("S")
        self._marks.append([])

    def save(self) -> None:
        if len(self._code):
            self.showPage()
        doc = self._doc
        root = PDFDictionary({"Type": PDFName("StructTreeRoot")})
        root_at = doc.Reference(root, "wavilex-structure")
        whole = PDFDictionary({"Type": PDFName("StructElem"), "S": PDFName("Document"), "P": root_at})
        whole_at = doc.Reference(whole, "wavilex-document")
        every: list[Any] = []
        parents: list[Any] = []
        for number, (at, tags) in enumerate(zip(self._refs, self._marks, strict=False)):
            own = []
            for mark, tag in enumerate(tags):
                element = PDFDictionary({
                    "Type": PDFName("StructElem"), "S": PDFName(tag), "P": whole_at,
                    "Pg": at, "K": mark,
                })  # fmt: skip
                own.append(doc.Reference(element, f"wavilex-mark-{number}-{mark}"))
            every += own
            parents += [number, PDFArray(own)]
        whole.dict["K"] = PDFArray(every)
        root.dict["K"] = PDFArray([whole_at])
        root.dict["ParentTree"] = PDFDictionary({"Nums": PDFArray(parents)})
        root.dict["ParentTreeNextKey"] = len(self._refs)
        doc.Catalog.StructTreeRoot = root_at
        doc.Catalog.MarkInfo = PDFDictionary({"Marked": "true"})
        doc.Catalog.ViewerPreferences = PDFDictionary({"DisplayDocTitle": "true"})
        super().save()


def foot(title: str) -> Any:
    """A page's foot: what it is of, and its number."""

    def draw(canvas: Canvas, document: Any) -> None:
        canvas.saveState()
        if isinstance(canvas, TaggedCanvas):
            canvas.begin_artifact()
        canvas.setFont(TEXT, 8.5)
        canvas.setFillColor(QUIET)
        canvas.drawString(MARGIN, 10 * mm, title.replace("→", "to")[:90])
        canvas.drawRightString(A4[0] - MARGIN, 10 * mm, f"page {document.page}")
        if isinstance(canvas, TaggedCanvas):
            canvas.end_tag()
        canvas.restoreState()

    return draw
