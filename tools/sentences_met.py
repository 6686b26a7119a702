"""What the demo says: its pages, its papers, the commands' help, and the errors of edits with broken input."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from html.parser import HTMLParser
from pathlib import Path

import click
from starlette.testclient import TestClient

from nail_count.cli import main as cli
from nail_count.demo.house import DEMO_KEY, put_demo
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.errors import Rejected
from nail_count.trade.plan.papers.all_papers import papers
from nail_count.trade.plan.papers.paper import Bullets, Para, Table
from nail_count.trade.rules.check import fitting_job
from nail_count.web.app import make_app

MOST_PAGES = 200
BLOCKS = {"p", "li", "h1", "h2", "h3", "button", "label", "td", "th", "summary", "legend", "option", "a", "figcaption"}


class _Page(HTMLParser):
    """The sentences of a page, and where it leads."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[str] = [""]
        self.links: list[str] = []
        self.hidden = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """Begin a sentence at a block; note a link."""
        if tag in ("script", "style", "svg"):
            self.hidden += 1
        if tag in BLOCKS:
            self.found.append("")
        href = dict(attrs).get("href") or ""
        if tag == "a" and href.startswith("/") and "?" not in href:
            self.links.append(href.partition("#")[0])

    def handle_endtag(self, tag: str) -> None:
        """End a sentence at the end of a block."""
        if tag in ("script", "style", "svg"):
            self.hidden -= 1
        if tag in BLOCKS:
            self.found.append("")

    def handle_data(self, data: str) -> None:
        """Take what is read."""
        if not self.hidden:
            self.found[-1] += f" {data}"


def everything() -> Iterator[tuple[str, str]]:
    """Yield where each sentence stands, and the sentence, each once."""
    seen: set[str] = set()
    for where, text in (*_pages(), *_commands(), *_errors()):
        plain = " ".join(text.split())
        if " " in plain and plain not in seen:
            seen.add(plain)
            yield where, plain


def _pages() -> Iterator[tuple[str, str]]:
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "house.sqlite3"
        store = Store(open_database(database))
        put_demo(store)
        yield from _papers(store)
        store.close()
        here = ("127.0.0.1", 50000)
        with TestClient(make_app(database), base_url="http://localhost", client=here) as client:
            ahead, known = ["/"], {"/"}
            while ahead and len(known) < MOST_PAGES:
                at = ahead.pop(0)
                answer = client.get(at)
                if not answer.headers.get("content-type", "").startswith("text/html"):
                    continue
                page = _Page()
                page.feed(answer.text)
                yield from ((at, text) for text in page.found)
                new = [link for link in dict.fromkeys(page.links) if link not in known]
                known.update(new)
                ahead += new


def _papers(store: Store) -> Iterator[tuple[str, str]]:
    for paper in papers(fitting_job(store.whole_job(DEMO_KEY)), coded=True):
        for section in paper.sections:
            yield f"paper {paper.kind}", section.title
            for block in section.blocks:
                if isinstance(block, Para):
                    yield f"paper {paper.kind}", block.text
                elif isinstance(block, Bullets):
                    yield from ((f"paper {paper.kind}", item) for item in block.items)
                elif isinstance(block, Table):
                    yield from ((f"paper {paper.kind}", cell) for row in block.rows for cell in row)


def _commands() -> Iterator[tuple[str, str]]:
    for name, command in sorted(cli.commands.items()):
        text = command.get_help(click.Context(command, info_name=name))
        yield from ((f"command {name}", one) for one in text.split("\n\n"))


def _errors() -> Iterator[tuple[str, str]]:
    """What each edit says where nothing is entered, and where nonsense is."""
    for name, edit in EDITS.items():
        for value in ("", "???"):
            said = {field: value for field in edit.model_fields if field != "box"}
            try:
                edit.read({**said, **({"box": "b"} if "box" in edit.model_fields else {})})
            except Rejected as wrong:
                yield from ((f"error {name}", problem.sentence) for problem in wrong.problems)
