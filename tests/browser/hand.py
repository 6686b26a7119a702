"""What a person does on the bench, and what they see there."""

from __future__ import annotations

import json
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select, WebDriverWait

from .driving import theme, view

AXE = Path(__file__).parents[2] / "node_modules" / "axe-core" / "axe.min.js"


class Hand:
    """Drives the real pages of a server."""

    def __init__(self, driver: Chrome, address: str) -> None:
        self.driver = driver
        self.address = address

    def desk(self) -> None:
        view(self.driver, 1280, 800)

    def phone(self) -> None:
        view(self.driver, 390, 844)

    def theme(self, scheme: str) -> None:
        theme(self.driver, scheme)

    def go(self, path: str) -> None:
        self.driver.get(self.address + path)

    def box(self, key: str) -> None:
        self.go(f"/jobs/schoolhouse/boxes/{key}")

    def start_box(self, **typed: str) -> None:
        """A box from nothing, by its form; the bench follows."""
        self.go("/jobs/schoolhouse")
        for name, value in typed.items():
            self.fill("start", name, value)
        self.press("#start > button")
        self.wait(lambda: self.all("#bench"))

    def one(self, selector: str) -> WebElement:
        return self.driver.find_element(By.CSS_SELECTOR, selector)

    def all(self, selector: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, selector)

    def text(self, selector: str) -> str:
        return self.one(selector).text

    def wait(self, what: Callable[[], object], seconds: float = 10) -> None:
        gone = (StaleElementReferenceException,)  # the page was just replaced: look again
        WebDriverWait(self.driver, seconds, 0.02, ignored_exceptions=gone).until(lambda _: what())

    def press(self, selector: str) -> None:
        """Brings a thing into view and clicks it."""
        element = self.one(selector)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
        element.click()

    def fill(self, form: str, name: str, value: str) -> None:
        """Types into a field, or chooses in a list."""
        if self.all(f"#{form}-{name}-{value}[type=radio]" if value.isdecimal() else f"#{form}-{name}-none"):
            self.press(f"#{form}-{name}-{value}")
            return
        element = self.one(f"#{form}-{name}")
        if element.tag_name == "select":
            Select(element).select_by_value(value)
        else:
            element.clear()
            element.send_keys(value)

    def revision(self) -> int:
        return int(self.one("#shown").get_attribute("data-revision") or 0)

    def act(self, do: Callable[[], object]) -> None:
        """Does one act and waits for its answer, which must come without a page load."""
        before = self.revision()
        self.driver.execute_script("window.stillHere = true")
        do()
        self.wait(lambda: self.revision() != before)
        assert self.driver.execute_script("return window.stillHere"), "expected no page load"

    def open(self, selector: str) -> None:
        """Unfolds a part of the page."""
        self.driver.execute_script("document.querySelector(arguments[0]).open = true", selector)

    def attributes(self, selector: str, *names: str) -> list[dict[str, str]]:
        script = (
            "return [...document.querySelectorAll(arguments[0])].map("
            "e => Object.fromEntries(arguments[1].map(n => [n, e.getAttribute(n) ?? ''])))"
        )
        found: list[dict[str, str]] = self.driver.execute_script(script, selector, list(names))
        return found

    def nails(self) -> list[tuple[Fraction, float]]:
        """Each nail of the rail: the volume it stands for, and its length as painted [px]."""
        script = (
            "return [...document.querySelectorAll('#rail use, #rail .nail')].map("
            "n => [n.getAttribute('width'), (n.querySelector('.hit') ?? n).getBoundingClientRect().width])"
        )
        return [(Fraction(volume), width) for volume, width in self.driver.execute_script(script)]

    def everyone(self, path: str) -> None:
        """A page with all of it unfolded is for everyone: all rules in light, those about colors again in dark."""
        self.go(path)
        self.wait(lambda: not self.all("#guide > .guide-next > a[href*='/next']"))  # the strip has come
        self.driver.execute_script("document.querySelectorAll('details').forEach(d => d.open = true)")
        found = self.axe()
        assert found == [], found
        self.theme("dark")
        assert self.axe("color-contrast", "link-in-text-block") == []

    def axe(self, *rules: str) -> list[str]:
        """What the accessibility checker finds: rule and place, WCAG 2.2 A and AA and best practice, or some rules."""
        if not self.driver.execute_script("return Boolean(window.axe)"):
            self.driver.execute_script(AXE.read_text())
        tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
        chosen = {"type": "rule", "values": rules} if rules else {"type": "tag", "values": tags}
        options = json.dumps({"runOnly": chosen})
        found: Any = self.driver.execute_async_script(
            f"const done = arguments[0]; axe.run(document, {options}).then(r => done(r.violations))"
        )
        return [f"{each['id']}: {node['target']} {node['failureSummary']}" for each in found for node in each["nodes"]]

    def fits(self) -> bool:
        """Whether nothing has to be scrolled sideways."""
        return bool(self.driver.execute_script("return document.documentElement.scrollWidth <= innerWidth"))

    def problems(self) -> list[str]:
        """What the browser's console says, but for refusals the test asked for."""
        expected = ("status of 409", "status of 422", "ERR_CONNECTION_REFUSED")
        lines = [entry["message"] for entry in self.driver.get_log("browser")]  # type: ignore[no-untyped-call]
        own = [line for line in lines if not line.startswith("chrome://")]
        return [line for line in own if not any(known in line for known in expected)]
