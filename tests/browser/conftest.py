"""One server and one browser for all browser tests of a worker."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium.webdriver import Chrome

from .driving import chromium, served
from .hand import Hand


@pytest.fixture(scope="session")
def driver(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Chrome]:
    with chromium(tmp_path_factory.mktemp("profile")) as made:
        yield made


@pytest.fixture
def address(demo: Path, tmp_path: Path) -> Iterator[str]:
    """Every test has a house of its own, whatever the others do to theirs."""
    shutil.copy(demo, tmp_path / "demo.sqlite3")
    with served(tmp_path / "demo.sqlite3") as running:
        yield running


@pytest.fixture
def hand(driver: Chrome, address: str) -> Iterator[Hand]:
    made = Hand(driver, address)
    made.desk()
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "", "features": []})
    yield made
    # What a page asks for a moment after it is shown, it asks of a server that is still there.
    driver.get("about:blank")
    assert made.problems() == [], "expected nothing in the browser's console"


@pytest.fixture
def data(tmp_path: Path) -> Path:
    return tmp_path / "data"
