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
    "day": (f"{HOUSE}/day", DESK, "light"),
    "fix": (f"{HOUSE}/boxes/bell-room/fix", DESK, "light"),
    "hookup": (f"{HOUSE}/boxes/front-door/hookup", DESK, "light"),
    "map": (f"{HOUSE}/map", (1280, 900), "light"),
    "commission-phone": (f"{HOUSE}/boxes/washroom/commission?device=m1&step=2", PHONE, "light"),
    "bring-in": (f"{HOUSE}/bring-in", (1280, 900), "light"),
}


TABLE = """Box,Room,Gangs,Volume,Cables,Device,Watts,Circuit,Remarks
Hat shelf,Cloakroom,1,20.3,14/2 x2,dimmer,4x9W led,5,
Coal cellar,Cellar,2,34,"14/2 x2, 14/3","switch, fan","60, 0.9A",6,damp
Study,Head teacher's study,2,34,14/2,dimmer,45,,
Bell rope,Bell room,two,34,three,switch,,6,
"""
"""Of the house as somebody wrote it down before."""


def look_at_table(driver: Chrome) -> None:
    """A table of boxes looked at: how its rows were understood."""
    driver.find_element("id", "boxes-text").send_keys(TABLE)
    driver.find_element("css selector", "#boxes button[value=look]").click()


def main(folder: Path, names: list[str], whole: bool) -> None:
    """Takes the pictures named, or all."""
    folder.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as scratch,
        server(Path(scratch) / "data") as address,
        chromium(Path(scratch) / "profile") as driver,
    ):
        for name in names or VIEWS:
            path, size, scheme = VIEWS.get(name, (name, DESK, "light"))
            view(driver, *size)
            theme(driver, scheme)
            driver.get(address + path)
            if name == "bring-in":
                look_at_table(driver)
            WebDriverWait(driver, 30, 0.05).until(
                lambda now: not now.find_elements("css selector", "#ways[hx-get], #fix-search[hx-get], #plan[hx-get]")
            )
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
