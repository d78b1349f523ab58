"""Paper: black on white, 12 pt, boxes for a pen, the revision and date at the foot, the safety strip on every sheet.

Exporting twice gives the same bytes; the date is that of the revision and passed in.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from reportlab.lib import colors, pagesizes
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Flowable, Frame, PageTemplate, Paragraph, Spacer, Table, TableStyle

PAPERS = {"a4": pagesizes.A4, "letter": pagesizes.letter}
MARGIN = 14 * mm
FOOT = 26 * mm
MOST_AT_12_PT = 26

SAFETY = (
    "Lithium packs are charged on a fireproof surface, never alone, never run below their cut-off. Fingers out of "
    "joints. A stalled servo burns: buzzing or hot, switch off. First power-up on a stand, stop switch within reach. "
    "Data sheets, local rules and licensed practice go first."
)

TEXT = ParagraphStyle("text", fontName="Helvetica", fontSize=12, leading=14.5)
SMALL = ParagraphStyle("small", parent=TEXT, fontSize=10, leading=12)
HEAD = ParagraphStyle("head", parent=TEXT, fontName="Helvetica-Bold", fontSize=17, leading=21)
PART = ParagraphStyle("part", parent=TEXT, fontName="Helvetica-Bold", fontSize=12.5, leading=16, spaceBefore=6)


@dataclass(frozen=True)
class Origin:
    """What a sheet was made from: the walker, its hash, and the revision and date where it has them."""

    walker: str
    says: str
    revision: str = ""
    date: str = ""

    @property
    def line(self) -> str:
        told = [self.walker, self.revision, self.date, self.says[:12]]
        return plain(" · ".join(t for t in told if t))


def plain(text: str) -> str:
    """In the letters that every PDF reader has."""
    text = text.replace("−", "-").replace("→", "to").replace("…", "...").replace("·", "-")
    return text.encode("cp1252", "replace").decode("cp1252")


def words(text: str, style: ParagraphStyle = TEXT) -> Paragraph:
    """Text as it is: nothing in it is markup."""
    safe = plain(text).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return Paragraph(safe, style)


def box(size_mm: float = 5.0) -> Flowable:
    """A square to tick."""
    return Table([[""]], colWidths=size_mm * mm, rowHeights=size_mm * mm,
                 style=TableStyle([("BOX", (0, 0), (-1, -1), 1, colors.black)]))  # fmt: skip


def rows(head: Sequence[str], body: Sequence[Sequence[Any]], widths_mm: Sequence[float]) -> Table:
    """A ruled list with a heading on every page; what would not fit a page at 12 pt is smaller."""
    small = len(body) > MOST_AT_12_PT
    style = SMALL if small else TEXT
    cells = [[words(h, PART) for h in head]]
    cells += [[words(c, style) if isinstance(c, str) else c for c in row] for row in body]
    return Table(
        cells,
        colWidths=[w * mm for w in widths_mm],
        repeatRows=1,
        hAlign="LEFT",
        style=TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.5, colors.black),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("TOPPADDING", (0, 1), (-1, -1), 1.5 if small else 3),
                ("BOTTOMPADDING", (0, 1), (-1, -1), 1.5 if small else 3),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
                ("RIGHTPADDING", (0, 0), (-1, -1), 2),
            ]
        ),
    )


def gap(height_mm: float = 3.0) -> Spacer:
    return Spacer(1, height_mm * mm)


def pdf(title: str, origin: Origin, story: Sequence[Flowable], paper: str, first_line: str = "") -> bytes:
    """The story on paper. first_line: what stands above everything in the safety strip."""
    buffer = io.BytesIO()
    size = PAPERS[paper]

    def foot(canvas: Canvas, document: BaseDocTemplate) -> None:
        canvas.saveState()
        canvas.setLineWidth(1)
        canvas.rect(MARGIN, 9 * mm, size[0] - 2 * MARGIN, FOOT - 10 * mm)
        strip = words(f"{first_line} {SAFETY}".strip(), SMALL)
        _, high = strip.wrap(size[0] - 2 * MARGIN - 4 * mm, FOOT)
        strip.drawOn(canvas, MARGIN + 2 * mm, 9 * mm + (FOOT - 10 * mm - high) / 2)
        canvas.setFont("Helvetica", 9)
        canvas.drawString(MARGIN, 4.5 * mm, origin.line)
        canvas.drawRightString(size[0] - MARGIN, 4.5 * mm, f"page {document.page}")
        canvas.restoreState()

    document = BaseDocTemplate(
        buffer, pagesize=size, title=plain(f"{origin.walker}: {title}"), author="Bustle", invariant=1
    )
    frame = Frame(MARGIN, FOOT + 2 * mm, size[0] - 2 * MARGIN, size[1] - FOOT - 12 * mm, 0, 0, 0, 0)
    document.addPageTemplates(PageTemplate(frames=[frame], onPage=foot))
    document.build([words(f"{origin.walker}: {title}", HEAD), gap(2), *story])
    return buffer.getvalue()
