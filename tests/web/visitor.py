"""Somebody who uses the pages as a browser without script does: reads them, fills in forms, follows links."""

from __future__ import annotations

from dataclasses import dataclass, field
from html.parser import HTMLParser
from urllib.parse import urlsplit

from httpx2 import Response
from starlette.testclient import TestClient

FRAGMENT = {"HX-Request": "true"}


@dataclass
class Form:
    """A form of a page, with the values it would send."""

    action: str
    id: str = ""
    values: dict[str, list[str]] = field(default_factory=dict)
    """By name: those that are filled in, ticked or picked."""
    names: set[str] = field(default_factory=set)
    """Of all its fields and buttons."""

    def fits(self, end: str, where: dict[str, str], typed: dict[str, str | list[str]]) -> bool:
        """Whether its address ends so, it is filled in so already, and has all the fields to type into."""
        said = all(self.values.get(name) == [value] for name, value in where.items())
        return self.action.endswith(end) and said and typed.keys() <= self.names


class _Reader(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.forms: list[Form] = []
        self.links: list[str] = []
        self.form: Form | None = None
        self.select = ""
        self.text: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        said = {name: value or "" for name, value in attrs}
        if tag == "a" and "href" in said:
            self.links.append(said["href"])
        if tag == "form":
            self.form = Form(said.get("action", ""), said.get("id", ""))
            self.forms.append(self.form)
        elif self.form is None:
            return
        elif tag == "option" and self.select:
            known = self.form.values.get(self.select)
            if known is None or "selected" in said:
                self.form.values[self.select] = [said.get("value", "")]
        elif name := said.get("name", ""):
            self.form.names.add(name)
            self.select = name if tag == "select" else ""
            kind = said.get("type", "")
            off = kind in ("checkbox", "radio") and "checked" not in said
            if tag in ("input", "textarea") and not off:
                self.form.values.setdefault(name, []).append(said.get("value", ""))

    def handle_endtag(self, tag: str) -> None:
        if tag == "form":
            self.form = None
        if tag == "select":
            self.select = ""

    def handle_data(self, data: str) -> None:
        self.text.append(data)


class Visitor:
    """Somebody at one page."""

    def __init__(self, client: TestClient) -> None:
        self.client = client
        self.at = "/"
        """The path of the page."""
        self.page = _Reader()

    def go(self, address: str) -> None:
        """Open a page."""
        self._shown(self.client.get(address))

    def follow(self, address: str) -> None:
        """Tap a link, which must stand on the page."""
        assert address in [link.partition("#")[0] for link in self.page.links], (self.at, address, self.page.links)
        self.go(address)

    def strip(self) -> str:
        """What the page fetches into its strip: its words; its forms and links are then those of the page, too."""
        (asks,) = {link for link in self.page.links if urlsplit(link).path.endswith("/next")}
        read = _Reader()
        read.feed(self.client.get(asks, headers=FRAGMENT).text)
        self.page.forms += read.forms
        self.page.links += read.links
        return " ".join(" ".join(read.text).split())

    def send(self, end: str, where: dict[str, str] | None = None, /, **typed: str | list[str]) -> None:
        """Fill in a form and send it. It must stand on the page.

        Args:
            end: of its address.
            where: what it says already.
            typed: what to type, pick or tap.
        """
        form = next((one for one in self.page.forms if one.fits(end, where or {}, typed)), None)
        assert form, (self.at, end, where, typed, [(one.action, one.values) for one in self.page.forms])
        sent = form.values | {name: [one] if isinstance(one, str) else one for name, one in typed.items()}
        answer = self.client.post(form.action, data=sent)
        assert answer.status_code == 200, (self.at, end, typed, answer.status_code, _words(answer.text))
        self._shown(answer)

    def _shown(self, answer: Response) -> None:
        assert answer.status_code == 200, (self.at, answer.status_code)
        self.at = urlsplit(str(answer.url)).path
        self.page = _Reader()
        self.page.feed(answer.text)

    @property
    def words(self) -> str:
        """The words of the page."""
        return " ".join(" ".join(self.page.text).split())


def _words(html: str) -> str:
    read = _Reader()
    read.feed(html)
    return " ".join(" ".join(read.text).split())[:6000]
