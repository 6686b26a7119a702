#!/usr/bin/env python3
"""Play each job on a phone-sized screen, count the touches, and write them into the table of the README."""

from __future__ import annotations

import re
import sys
from pathlib import Path
from tempfile import TemporaryDirectory

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.browser import touches  # noqa: E402
from tests.browser.driving import chromium, server  # noqa: E402
from tests.browser.hand import Hand  # noqa: E402

HEAD = "| Job, on a phone-sized screen | Touches, counted by a test from the browser's own events |\n|---|---|\n"


def main() -> None:
    """Play all rows and replace those of the README."""
    rows = []
    for row in touches.ROWS:
        with (
            TemporaryDirectory() as folder,
            server(Path(folder) / "data", "serve") as address,
            chromium(Path(folder) / "profile") as driver,
        ):
            hand = Hand(driver, address)
            touches.begin(hand)
            row.play(hand)
            rows.append(touches.told(row, touches.counted(hand, "touches")))
            print(rows[-1])
    readme = ROOT / "README.md"
    table = re.compile(re.escape(HEAD) + r"(\|.*\|\n)+")
    text = readme.read_text()
    assert table.search(text), "the README has no table of touches"
    readme.write_text(table.sub(lambda _: HEAD + "\n".join(rows) + "\n", text))


if __name__ == "__main__":
    main()
