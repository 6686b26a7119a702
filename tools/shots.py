"""Retakes the pictures of the main views from the demo house: python tools/shots.py FOLDER [NAME…]."""

from __future__ import annotations

import base64
import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from selenium.webdriver import Chrome
from selenium.webdriver.support.ui import WebDriverWait
from tests.browser.driving import chromium, server, theme, view
from tests.browser.hand import Hand

HOUSE = "/jobs/schoolhouse"
DESK, PHONE = (1280, 800), (390, 844)

VIEWS: dict[str, tuple[str, tuple[int, int], str]] = {
    "house": (HOUSE, DESK, "light"),
    "house-phone": (HOUSE, PHONE, "light"),
    "bench": (f"{HOUSE}/boxes/kitchen-bench", DESK, "light"),
    "bench-fails-dark": (f"{HOUSE}/boxes/stair-foot", DESK, "dark"),
    "bench-phone": (f"{HOUSE}/boxes/cloakroom", PHONE, "light"),
    "sheet": (f"{HOUSE}/sheets/ostrel-wide-dimmer", DESK, "light"),
    "paper": (f"{HOUSE}/papers/inspector?box=cloakroom", DESK, "light"),
    "panel": (f"{HOUSE}/panel?circuit=9", DESK, "light"),
    "survey-phone": (f"{HOUSE}/boxes/front-door/survey", PHONE, "light"),
    "wires": (f"{HOUSE}/boxes/cloakroom/wires", DESK, "light"),
    "choose": (f"{HOUSE}/boxes/kitchen-bench/choose?gang=2&wish=w2", DESK, "light"),
    "parts-phone": (f"{HOUSE}/parts", PHONE, "light"),
    "install-phone": (f"{HOUSE}/boxes/front-door/install?step=12", PHONE, "dark"),
    "day": (f"{HOUSE}/day/plan", DESK, "light"),
    "fix": (f"{HOUSE}/boxes/bell-room/fix", DESK, "light"),
    "hookup": (f"{HOUSE}/boxes/front-door/hookup", DESK, "light"),
    "map": (f"{HOUSE}/map", (1280, 900), "light"),
    "commission-phone": (f"{HOUSE}/boxes/washroom/commission?device=m1&step=2", PHONE, "light"),
    "history": (f"{HOUSE}/boxes/stair-foot/history?at=1&beside=3", DESK, "light"),
}


def change(driver: Chrome, address: str) -> None:
    """Something for the history to show: two gangs of one box swapped, a cable added."""
    hand = Hand(driver, address)
    hand.box("stair-foot")
    hand.act(lambda: hand.press('[aria-label="Swap with 2: gang 1"]'))
    hand.act(lambda: hand.press("#add-14-3"))
    hand.act(lambda: hand.press("#undo"))
    hand.act(lambda: hand.press("#undo"))


def main(folder: Path, names: list[str], whole: bool) -> None:
    """Takes the pictures named, or all."""
    folder.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as scratch,
        server(Path(scratch) / "data") as address,
        chromium(Path(scratch) / "profile") as driver,
    ):
        change(driver, address)
        for name in names or VIEWS:
            path, size, scheme = VIEWS.get(name, (name, DESK, "light"))
            view(driver, *size)
            theme(driver, scheme)
            driver.get(address + path)
            WebDriverWait(driver, 10, 0.05).until(lambda now: not now.find_elements("css selector", "#ways[hx-get]"))
            asked: dict[str, object] = {}
            if whole:
                tall = driver.execute_script("return document.documentElement.scrollHeight")
                clip = {"x": 0, "y": 0, "width": size[0], "height": min(tall, 3500), "scale": 1}
                asked = {"captureBeyondViewport": True, "clip": clip}
            taken = driver.execute_cdp_cmd("Page.captureScreenshot", asked)
            file = folder / f"{name.strip('/').replace('/', '-') or 'board'}.png"
            file.write_bytes(base64.b64decode(taken["data"]))
            print(file)


if __name__ == "__main__":
    arguments = [argument for argument in sys.argv[1:] if argument != "--whole"]
    main(Path(arguments[0]), arguments[1:], "--whole" in sys.argv)
