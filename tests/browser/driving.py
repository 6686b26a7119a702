"""A real server and a real Chromium, for browser tests, pictures and measures."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Thread

import uvicorn
from selenium.webdriver import Chrome, ChromeOptions
from selenium.webdriver.chrome.service import Service

from nail_count.web.app import make_app
from nail_count.web.serve import listen

CHROMIUM = os.environ.get("CHROMIUM", "/usr/bin/chromium")
CHROMEDRIVER = os.environ.get("CHROMEDRIVER", "/usr/bin/chromedriver")


@contextmanager
def server(data: Path, command: str = "demo", killed: bool = False) -> Iterator[str]:
    """A running server on this folder; its address. At the end it is asked to stop, or killed where it stands."""
    arguments = [sys.executable, "-c", "from nail_count.cli import main; main()", command, "--data", str(data)]
    process = subprocess.Popen([*arguments, "--port", "0"], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    try:
        said = process.stdout.readline()
        assert "http://" in said, f"expected the server to say where it is, not {said!r}"
        yield said.split(" is at ")[1].split("/  ")[0]
    finally:
        process.kill() if killed else process.terminate()
        process.wait(10)
        process.stdout.close()


@contextmanager
def served(database: Path) -> Iterator[str]:
    """This database served from a thread of this process: quick enough for every test to have a house of its own."""
    listener = listen("127.0.0.1", 0)
    server = uvicorn.Server(uvicorn.Config(make_app(database), log_level="warning", access_log=False))
    worker = Thread(target=server.run, kwargs={"sockets": [listener]})
    worker.start()
    try:
        yield f"http://127.0.0.1:{listener.getsockname()[1]}"
    finally:
        server.should_exit = True
        server.force_exit = True  # the browser keeps its connections open
        worker.join(20)
        listener.close()


@contextmanager
def chromium(profile: Path, width: int = 1280, height: int = 800) -> Iterator[Chrome]:
    """Debian's Chromium through Debian's driver, both by path, fetching nothing."""
    options = ChromeOptions()
    options.binary_location = CHROMIUM
    for argument in (
        "headless=new", "no-sandbox", "disable-gpu", "disable-quic", "no-first-run", "disable-sync",
        "disable-background-networking", "disable-component-update", "disable-dev-shm-usage", "hide-scrollbars",
        f"user-data-dir={profile}", f"window-size={width},{height}",
    ):  # fmt: skip
        options.add_argument(f"--{argument}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
    driver = Chrome(options=options, service=Service(CHROMEDRIVER))
    try:
        view(driver, width, height)
        yield driver
    finally:
        driver.quit()


def view(driver: Chrome, width: int, height: int) -> None:
    """Sets the size of the page itself; a window alone cannot be as narrow as a phone."""
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 500}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)


def theme(driver: Chrome, scheme: str) -> None:
    """Makes the system light or dark, as pages ask for it."""
    feature = {"name": "prefers-color-scheme", "value": scheme}
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": [feature]})
