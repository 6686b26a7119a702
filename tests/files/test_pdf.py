"""Papers as PDF, read back by another library: every word, every page numbered, gray vectors, nothing cut."""

from __future__ import annotations

import re
from datetime import datetime
from functools import cache
from io import BytesIO
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from pypdf import PdfReader

from nail_count.files.job_json import read_job
from nail_count.files.pdf import SIZES, PaperSize, papers_pdf
from nail_count.files.photo import take_in
from nail_count.files.report import CAUTION
from nail_count.trade.model.box import Box
from nail_count.trade.model.contents import Built
from nail_count.trade.model.job import Job
from nail_count.trade.plan.papers.all_papers import papers
from nail_count.trade.plan.papers.paper import PAPER_KINDS, Beside, Bullets, Paper, Para, Pictures, Table
from nail_count.trade.rules.check import fitting_job

DEMO = fitting_job(read_job((Path(__file__).parents[2] / "src/nail_count/demo/schoolhouse.json").read_bytes()))
MADE = datetime(2026, 3, 2, 9, 0)
POINTS = {"letter": (612, 792), "A4": (595, 842)}
"""Of a page: 8.5 by 11 in, 210 by 297 mm, in points of a 72nd of an inch."""


@cache
def demo(size: PaperSize = "letter") -> tuple[list[Paper], PdfReader]:
    made = list(papers(DEMO, coded=True))
    return made, read(DEMO, made, size)


def read(job: Job, made: list[Paper], size: PaperSize = "letter") -> PdfReader:
    return PdfReader(BytesIO(papers_pdf(job, made, size, made=MADE, address=lambda key: f"http://house.test/{key}")))


def bare(text: str) -> str:
    """Without spaces and line ends, so that a word broken at the end of a line is one again."""
    return re.sub(r"\s+", "", text)


def said(paper: Paper) -> list[str]:
    """Everything a paper says."""
    words = [paper.title, paper.house, paper.where]
    for section in paper.sections:
        words.append(section.title)
        for block in section.blocks:
            table = block.right if isinstance(block, Beside) else block
            if isinstance(table, Table):
                words += [cell for row in (table.head, *table.rows) for cell in row]
            elif isinstance(block, Para):
                words.append(block.text)
            elif isinstance(block, Bullets):
                words += block.items
            elif isinstance(block, Pictures):
                words += [caption for _, caption in block.each]
    return words


def starts(reader: PdfReader) -> list[int]:
    """On which page each paper begins, from 0, by the outline."""
    return [reader.get_destination_page_number(one) or 0 for one in reader.outline if not isinstance(one, list)]


def test_every_word_of_every_paper_stands_on_its_pages() -> None:
    made, reader = demo()
    begins = starts(reader)
    assert len(begins) == len(made) and {paper.kind for paper in made} == set(PAPER_KINDS)
    for paper, first, after in zip(made, begins, [*begins[1:], len(reader.pages)], strict=True):
        text = bare("".join(page.extract_text() for page in reader.pages[first:after]))
        missing = [words for words in said(paper) if bare(words) not in text]
        assert not missing, f"expected on {paper.title} {paper.where}: {missing[:3]}"


@pytest.mark.parametrize("size", ["letter", "A4"])
def test_every_page_says_which_it_is_and_the_contents_say_where(size: PaperSize) -> None:
    made, reader = demo(size)
    count = len(reader.pages)
    assert POINTS[size] == pytest.approx(SIZES[size], abs=1)
    for number, page in enumerate(reader.pages, 1):
        text = page.extract_text()
        assert f"Page {number} of {count}" in text and CAUTION in text and "2026-03-02" in text
        assert (float(page.mediabox.width), float(page.mediabox.height)) == pytest.approx(POINTS[size], abs=1)
    begins = starts(reader)
    contents = bare("".join(page.extract_text() for page in reader.pages[: begins[0]]))
    for paper, first in zip(made, begins, strict=True):
        title = f"{paper.title}, {paper.where}" if paper.where else paper.title
        assert re.search(rf"{re.escape(bare(title))}|\b{first + 1}", contents)
        assert reader.pages[first].extract_text().startswith(paper.title)
    numbers = [int(one) for one in re.findall(r"(?:^|[. ])(\d+)$", _lines(reader, begins[0]), re.MULTILINE)]
    assert sorted(numbers)[-len(begins) :] == [first + 1 for first in begins]


def _lines(reader: PdfReader, count: int) -> str:
    """The lines of the first pages, but for their foot."""
    lines = "\n".join(page.extract_text() for page in reader.pages[:count]).splitlines()
    return "\n".join(line for line in lines if not line.startswith("Page "))


def test_an_inspectors_sheet_is_one_page_and_no_card_is_cut() -> None:
    made, reader = demo()
    begins = [*starts(reader), len(reader.pages)]
    for number, paper in enumerate(made):
        if paper.kind == "inspector":
            assert begins[number + 1] - begins[number] == 1, paper.where
        pages = [bare(page.extract_text()) for page in reader.pages[begins[number] : begins[number + 1]]]
        for card in (section for section in paper.sections if section.card):
            words = [bare(one) for one in said(Paper("notes", "", "", (card,))) if one]
            assert any(all(word in page for word in words) for page in pages), card.title


def test_drawings_are_vectors_in_gray_and_the_typeface_is_in_the_file() -> None:
    _, reader = demo()
    for page in reader.pages:
        assert not page.images
        drawn = page.get_contents()
        assert drawn is not None
        for red, green, blue in re.findall(rb"([\d.]+) ([\d.]+) ([\d.]+) (?:rg|RG)\b", drawn.get_data()):
            assert float(red) == float(green) == float(blue)
        fonts = [font.get_object() for font in page["/Resources"]["/Font"].values()]  # type: ignore[index]
        assert fonts and all(
            "/FontFile2" in font["/FontDescriptor"] for font in fonts if font["/Subtype"] == "/TrueType"
        )
    heads = [(page, page.extract_text().splitlines()[:2]) for page in reader.pages]
    cloakroom = next(page for page, head in heads if "Inspector" in head[0] and "Cloakroom" in head[1])
    heads_of_nails = re.findall(rb" 28 m [\d.]+ 52 l\sS\b", cloakroom.get_contents().get_data())  # type: ignore[union-attr]
    assert len(heads_of_nails) == 7 + 1 + 2 + 1, "of 12 AWG: 7 conductors, clamps, 2 of the device, grounds"


def test_the_same_papers_make_the_same_file() -> None:
    made = list(papers(DEMO, "as-built", ["washroom"]))
    assert papers_pdf(DEMO, made, "A4", made=MADE) == papers_pdf(DEMO, made, "A4", made=MADE)


def test_a_picture_that_is_here_is_in_it_and_one_that_is_not_is_named() -> None:
    kept = BytesIO()
    Image.new("RGB", (60, 40), "#557799").save(kept, "PNG")
    taken = take_in(kept.getvalue())
    photos = ({"id": taken.id, "caption": "before", "at": MADE}, {"id": "00000000", "caption": "gone", "at": MADE})
    house = Job(
        name="House",
        boxes=(Box.model_validate({"id": "b", "name": "Hall", "room": "Hall", "survey": {"photos": photos}}),),
    )
    made = list(papers(house, "as-built"))
    made_here = PdfReader(BytesIO(papers_pdf(house, made, photo=lambda id: taken.body if id == taken.id else None)))
    assert len(made_here.pages[0].images) == 1
    assert "before, 2026-03-02" in (text := made_here.pages[0].extract_text()) and "gone, 2026-03-02" in text


@settings(max_examples=25)
@given(st.text(min_size=1, max_size=60).filter(str.strip), st.text(max_size=80), st.sampled_from(["letter", "A4"]))
def test_whatever_things_are_called_a_paper_is_made(name: str, label: str, size: PaperSize) -> None:
    """Marks of the paper's own language, other scripts: nothing breaks, nothing is taken for it."""
    clean = name.encode("utf-8", "ignore").decode().strip() or "x"
    feeds = label.encode("utf-8", "ignore").decode()
    house = Job.model_validate({"name": clean, "circuits": [{"id": "1", "space": 1, "feeds": feeds}],
                                "boxes": [{"id": "b", "name": clean, "room": f"<b>{clean[:50]}"}]})  # fmt: skip
    made = list(papers(house))
    reader = read(house, made, size)
    assert len(starts(reader)) == len(made)


def test_an_empty_house_has_papers_that_say_so() -> None:
    house = Job(name="Nothing yet")
    made = list(papers(house))
    text = "".join(page.extract_text() for page in read(house, made).pages)
    for words in (
        "No box in this house yet.",
        "No switch is in yet.",
        "Boxes: none",
        "Nothing to say of any box yet.",
    ):
        assert words in text


def test_the_fullest_box_there_can_be_is_printed_whole() -> None:
    """40 cables of many gauges, 8 gangs of 8 channels: more lines than a page, a label as long as they come."""
    channel = {"ratings": {"led": {"alone": "100 W"}, "fan": {"alone": "2 A"}, "incandescent": {"alone": "300 W"}}}
    sheet = {"id": "s", "name": "Eight channels", "kind": "dimmer", "derating": "none needed"}
    gauges = (14, 12, 10, 8, 6, "2.5 mm²", "1.5 mm²", "4 mm²")
    letters = [one for n in range(40) for one in (f"{chr(65 + n % 26)}{n // 26 or ''}",)]
    cables = [
        {"id": letters[n], "gauge": gauges[n % 8], "insulated": 2, "grounds": n % 2, "space": 1} for n in range(40)
    ]
    devices = [{"id": f"d{n}", "gang": n, "sheet": "s", "name": f"Row {n} of lamps"} for n in range(1, 9)]
    planned = {"enclosure": {"gangs": 8, "volume": "400 in3"}, "devices": devices}
    full = {"id": "b", "name": "Full", "room": "Hall", "cables": cables, "planned": planned}
    channels = [channel | {"name": f"Channel {n}"} for n in range(1, 9)]
    house = Job.model_validate({"name": "House", "sheets": [sheet | {"channels": channels}], "boxes": [full]})
    made = list(papers(fitting_job(house), coded=True))
    reader = read(house, made)
    begins = [*starts(reader), len(reader.pages)]
    for number, paper in enumerate(made):
        text = bare("".join(page.extract_text() for page in reader.pages[begins[number] : begins[number + 1]]))
        assert not [words for words in said(paper) if bare(words) not in text], paper.title
    label = next(paper for paper in made if paper.kind == "labels")
    assert len(next(block for block in label.sections[0].blocks if isinstance(block, Bullets)).items) == 64


def test_a_space_nobody_recorded_is_not_called_free() -> None:
    """NEC 408.4(A), from memory: what isn't known of a space isn't put on the door as a fact."""
    job = DEMO.changed(circuits=DEMO.circuits[:1])
    (made,) = (one for one in papers(job, coded=True) if one.kind == "directory")
    (table,) = (part for section in made.sections for part in section.blocks if isinstance(part, Table))
    words = {cell for row in table.rows for cell in row}
    assert "not recorded" in words and "free" not in words


def test_a_device_whose_listing_is_void_stands_on_every_paper() -> None:
    """NEC 110.3(B), from memory: on the inspector's sheet it is a finding; the others begin with it."""
    box = DEMO.boxes[0]
    for built in (False, True):
        marked = tuple(one.changed(listing="modified") for one in box.devices)
        changed = box.changed(devices=marked)
        if built:
            changed = box.changed(built=Built(enclosure=box.enclosure, devices=marked))
        house = DEMO.changed(boxes=(changed, *DEMO.boxes[1:]))
        for paper in papers(house):
            own = paper.box in ("", box.id) and (paper.kind == "as-built" if built else True)
            if built and paper.kind != "as-built":
                continue
            assert any("was modified" in words for words in said(paper)) == own, paper.title
