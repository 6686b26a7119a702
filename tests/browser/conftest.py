"""One server and one browser for all browser tests of a worker."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium.webdriver import Chrome

from .driving import chromium, server
from .hand import Hand


@pytest.fixture(scope="session")
def driver(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Chrome]:
    with chromium(tmp_path_factory.mktemp("profile")) as made:
        yield made


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    with server(tmp_path_factory.mktemp("demo")) as running:
        yield running


@pytest.fixture
def hand(driver: Chrome, address: str) -> Iterator[Hand]:
    made = Hand(driver, address)
    made.desk()
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "", "features": []})
    yield made
    assert made.problems() == [], "expected nothing in the browser's console"


@pytest.fixture
def data(tmp_path: Path) -> Path:
    return tmp_path / "data"
