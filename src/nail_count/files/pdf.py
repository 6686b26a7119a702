"""Papers as one PDF: letter or A4, black and white, numbered, with contents; nothing that fits a page is cut."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from io import BytesIO
from typing import Any, Literal
from xml.sax.saxutils import escape

from reportlab.lib.colors import Color, black
from reportlab.lib.enums import TA_LEFT
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    Image,
    KeepInFrame,
    KeepTogether,
    ListFlowable,
    ListItem,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
)
from reportlab.platypus import Table as PdfTable
from reportlab.platypus.doctemplate import IndexingFlowable
from reportlab.platypus.tableofcontents import TableOfContents

from ..drawing.of_paper import code_of, drawing_of, map_of
from ..trade.model.job import Job
from ..trade.plan.papers.paper import (
    Beside,
    Block,
    Bullets,
    Coded,
    Drawn,
    Mapped,
    Paper,
    Para,
    Pictures,
    Section,
    Table,
)
from .pdf_ink import BOLD, PLAIN, SHEET, Drawing, register
from .report import CAUTION

PaperSize = Literal["letter", "A4"]
SIZES: dict[PaperSize, tuple[float, float]] = {"letter": LETTER, "A4": A4}
MARGIN, FOOT = 15 * mm, 7 * mm
GRAY, PALE = Color(0.35, 0.35, 0.35), Color(0.93, 0.93, 0.93)
BESIDE = 0.27
"""What a drawing has of the page, beside a table."""
HEADED = 17 * mm
"""What the title of a paper takes of its first page."""
MOST_SHRUNK = 1.4
"""A sheet that is one page stays one, printed smaller by as much at most."""
LONG = 24
"""Rows of a table that may go on over pages; a shorter one stays whole."""
Address = Callable[[str], str]
"""Where the page of a box is, for the codes on labels."""
Photo = Callable[[str], bytes | None]
"""A picture by its id, as JPEG; None where it is not here."""
CARD = 180 * mm
"""How tall a card is at most."""
CODE = 36 * mm
"""What a code takes of a card."""
SIDE = 58 * mm
"""Of a picture at most."""


def _style(name: str, size: float, bold: bool = False, **more: Any) -> ParagraphStyle:
    font = BOLD if bold else PLAIN
    return ParagraphStyle(name, fontName=font, fontSize=size, leading=size * 1.28, alignment=TA_LEFT, **more)


TITLE = _style("Title", 17, True, spaceAfter=0.6 * mm)
UNDER = _style("Under", 10.5, textColor=GRAY, spaceAfter=3 * mm)
HEAD = _style("Head", 12, True, spaceBefore=3.5 * mm, spaceAfter=1.2 * mm, keepWithNext=1)
TEXT, STRONG = _style("Text", 9.6, spaceAfter=1.4 * mm), _style("Strong", 11, True, spaceAfter=1.6 * mm)
SMALL = _style("Small", 7.8, textColor=GRAY, spaceAfter=1 * mm)
CELL, CELL_HEAD = _style("Cell", 8.4), _style("CellHead", 8, True)
CONTENTS = _style("Contents", 10.5, spaceBefore=1.2 * mm)
_OF = {"strong": STRONG, "small": SMALL, "": TEXT}


def papers_pdf(
    job: Job,
    papers: Sequence[Paper],
    size: PaperSize = "letter",
    *,
    made: datetime | None = None,
    address: Address | None = None,
    photo: Photo | None = None,
) -> bytes:
    """Papers as a PDF; with contents where there are several.

    Args:
        job: the house they are of, whose drawings they ask for.
        papers: in order, each begun on a page of its own.
        size: of the page.
        made: when, for the foot of each page; None: without.
        address: where the page of a box is; None: labels have no code.
        photo: pictures; None: they are named only.

    Returns:
        The file. The same papers make the same file.
    """
    register()
    kept = BytesIO()
    title = papers[0].title if len(papers) == 1 else f"Papers of {job.name}"
    document = _Document(kept, size, title, job.name, made)
    flow: list[Flowable] = []
    if len(papers) > 1:
        contents = TableOfContents(levelStyles=[CONTENTS], dotsMinLevel=0)
        flow += [Paragraph(escape(f"Papers of {job.name}"), TITLE), Paragraph("Contents", UNDER), contents, PageBreak()]
    for number, paper in enumerate(papers):
        flow += [PageBreak()] if number else []
        flow += _paper(job, paper, document.room, document.tall, _Outside(address, photo))
    document.multiBuild([_Count(document), *flow])
    return kept.getvalue()


@dataclass(frozen=True, slots=True)
class _Outside:
    """What papers need that a job does not hold."""

    address: Address | None
    photo: Photo | None


class _Begins(Paragraph):
    """The title of a paper, and what the contents call it."""

    begins = ""


class _Document(BaseDocTemplate):
    """Pages of one frame, whose titles go into the contents and the outline."""

    def __init__(self, kept: BytesIO, size: PaperSize, title: str, of: str, made: datetime | None) -> None:
        super().__init__(kept, pagesize=SIZES[size], title=title, subject=of, invariant=1)
        self.count = 0
        self.foot = f"{of}{f' · {made:%Y-%m-%d}' if made else ''}"[:110]
        wide, tall = SIZES[size]
        low = MARGIN + FOOT
        self.room, self.tall = wide - 2 * MARGIN, tall - MARGIN - low
        frame = Frame(MARGIN, low, self.room, self.tall, 0, 0, 0, 0)
        self.addPageTemplates([PageTemplate("page", [frame], onPageEnd=_foot)])

    def afterFlowable(self, flowable: Flowable) -> None:  # noqa: N802 – the library's name
        """A paper begins: into the contents and the outline."""
        if isinstance(flowable, _Begins):
            key = f"paper-{self.page}"
            self.canv.bookmarkPage(key)
            self.canv.addOutlineEntry(flowable.begins, key)
            self.notify("TOCEntry", (0, escape(flowable.begins), self.page, key))


class _Count(IndexingFlowable):
    """How many pages there are: known from the time before, and all are laid once more until that is so."""

    def __init__(self, document: _Document) -> None:
        super().__init__()
        self.document = document
        self.settled = False

    def wrap(self, room: float, height: float) -> tuple[float, float]:
        """It takes no room."""
        return 0, 0

    def draw(self) -> None:
        """It is not seen."""

    def afterBuild(self) -> None:  # noqa: N802 – the library's name
        """All pages are laid: so many."""
        self.settled = self.document.count == self.document.page
        self.document.count = self.document.page

    def isSatisfied(self) -> bool:  # noqa: N802 – the library's name
        """Whether every page has that number."""
        return self.settled


def _foot(on: Canvas, document: BaseDocTemplate) -> None:
    """The foot of a page: the caution, whose it is, which page of how many."""
    assert isinstance(document, _Document)
    on.saveState()
    on.setFont(PLAIN, 7.4)
    on.setFillColor(GRAY)
    on.drawString(MARGIN, MARGIN + 2 * mm, CAUTION)
    on.setFillColor(black)
    on.drawString(MARGIN, MARGIN - 2 * mm, document.foot)
    on.drawRightString(MARGIN + document.room, MARGIN - 2 * mm, f"Page {document.page} of {document.count}")
    on.restoreState()


def _paper(job: Job, paper: Paper, room: float, tall: float, out: _Outside) -> Iterator[Flowable]:
    title = _Begins(escape(paper.title), TITLE)
    title.begins = f"{paper.title}, {paper.where}" if paper.where else paper.title
    yield title
    yield Paragraph(escape(" · ".join(filter(None, (paper.house, paper.where)))), UNDER)
    left, made = tall - HEADED, [(section, _section(job, section, room, out)) for section in paper.sections]
    if paper.kind == "inspector":
        flow, scratch = [one for _, blocks in made for one in blocks], Canvas(BytesIO())
        if sum(one.wrapOn(scratch, room, tall)[1] for one in flow) <= left * MOST_SHRUNK:
            yield KeepInFrame(room, left, flow, mode="shrink")
            return
    for section, blocks in made:
        tables = [block.right if isinstance(block, Beside) else block for block in section.blocks]
        goes_on = any(isinstance(block, Table) and len(block.rows) > LONG for block in tables)
        yield from blocks if goes_on else [KeepTogether(blocks)]


def _section(job: Job, section: Section, room: float, out: _Outside) -> list[Flowable]:
    if section.card:
        return [_card(job, section, room, out), Spacer(1, 4 * mm)]
    blocks = [flow for block in section.blocks for flow in _block(job, block, room, out)]
    return [Paragraph(escape(section.title), HEAD), *blocks] if section.title else blocks


def _card(job: Job, section: Section, room: float, out: _Outside) -> PdfTable:
    """Draw one label to cut out: its words, and its code to the right of them."""
    codes = [block for block in section.blocks if isinstance(block, Coded)] if out.address else []
    words = room - (CODE if codes else 0)
    inside: list[Flowable] = [Paragraph(escape(section.title), STRONG)]
    for block in section.blocks:
        if not isinstance(block, Coded):
            inside += _block(job, block, words - 8 * mm, out)
    beside = [flow for code in codes for flow in _block(job, code, CODE - 8 * mm, out)]
    held = KeepInFrame(words - 8 * mm, CARD, inside, mode="shrink")  # never cut, whatever stands on it
    card = PdfTable([[held, beside]], [words, CODE]) if beside else PdfTable([[held]], [words])
    card.setStyle([
        ("BOX", (0, 0), (-1, -1), 0.8, black), ("LEFTPADDING", (0, 0), (-1, -1), 4 * mm),
        ("TOPPADDING", (0, 0), (-1, -1), 2.5 * mm), ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5 * mm),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
    ])  # fmt: skip
    return card


def _block(job: Job, block: Block, room: float, out: _Outside) -> Iterator[Flowable]:
    match block:
        case Para():
            yield Paragraph(escape(block.text), _OF[block.weight])
        case Bullets():
            items: list[Any] = [ListItem(Paragraph(escape(one), TEXT), leftIndent=5 * mm) for one in block.items]
            sign = "☐" if block.boxes else "•"
            yield ListFlowable(items, bulletType="bullet", start=sign, bulletFontName=PLAIN, leftIndent=5 * mm)
        case Table():
            yield _table(block, room)
            yield Spacer(1, 2 * mm)
        case Drawn():
            yield Drawing(drawing_of(job, block), room)
        case Mapped():
            yield Drawing(map_of(job, block), room, SHEET)
        case Beside():
            if len(block.right.rows) > LONG:  # one that goes on over pages stands under its drawing
                yield Drawing(drawing_of(job, block.left), room * BESIDE)
                yield _table(block.right, room)
            else:
                yield _beside(job, block, room)
        case Coded():
            if out.address is not None:
                yield Drawing(code_of(out.address(block.box)), room)
        case Pictures():
            yield from _pictures(block, out)


def _pictures(block: Pictures, out: _Outside) -> Iterator[Flowable]:
    for id, caption in block.each:
        taken = out.photo(id) if out.photo else None
        if taken is not None:
            yield Image(BytesIO(taken), SIDE, SIDE, kind="proportional", hAlign="LEFT")
        yield Paragraph(escape(caption), TEXT)


def _beside(job: Job, block: Beside, room: float) -> PdfTable:
    """A drawing with a table to its right; the two end where the longer of them does."""
    left = room * BESIDE
    made = PdfTable(
        [[Drawing(drawing_of(job, block.left), left - 3 * mm), _table(block.right, room - left)]], [left, room - left]
    )
    sides = [(f"{side}PADDING", (0, 0), (-1, -1), 0) for side in ("LEFT", "RIGHT", "TOP", "BOTTOM")]
    made.setStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), *sides])
    return made


def _table(table: Table, room: float) -> PdfTable:
    whole = sum(table.shares)
    rows = [[Paragraph(escape(cell), CELL_HEAD) for cell in table.head]]
    rows += [[Paragraph(escape(cell), CELL) for cell in row] for row in table.rows]
    made = PdfTable(rows, colWidths=[room * share / whole for share in table.shares], repeatRows=1)
    style: list[tuple[Any, ...]] = [
        ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, 0), 0.9, black),
        ("BACKGROUND", (0, 0), (-1, 0), PALE), ("LINEBELOW", (0, 1), (-1, -1), 0.3, GRAY),
        ("LEFTPADDING", (0, 0), (-1, -1), 1.4 * mm), ("RIGHTPADDING", (0, 0), (-1, -1), 1.4 * mm),
        ("TOPPADDING", (0, 0), (-1, -1), 0.8 * mm), ("BOTTOMPADDING", (0, 0), (-1, -1), 0.9 * mm),
    ]  # fmt: skip
    if table.total:
        style.append(("LINEABOVE", (0, -1), (-1, -1), 0.9, black))
    made.setStyle(style)
    return made
