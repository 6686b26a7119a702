"""Follow one tap and one read through the code: which of our files it passes, and where it turns back up.

    .venv/bin/python tools/trace_tap.py

Prints the files in the order they are first entered, each with how many calls entered it from another file. A call from
a lower part of the house into a higher one (web, then store, files and drawing, then trade) turns back.
"""

from __future__ import annotations

import re
import tempfile
import threading
from collections import Counter
from pathlib import Path
from types import FrameType

from starlette.testclient import TestClient

from nail_count.demo.house import put_demo
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.web.app import make_app

SRC = Path(__file__).parent.parent / "src" / "nail_count"
BENCH = "/jobs/schoolhouse/boxes/kitchen-bench"
HEIGHT = {"web": 3, "demo": 2, "store": 2, "files": 1, "drawing": 1, "trade": 0}
"""How high a part of the house stands."""


class Trace:
    """The calls between our files while it is on."""

    def __init__(self) -> None:
        self.start(False)

    def start(self, on: bool) -> None:
        """Start over when it is turned on; keep the findings when it is turned off."""
        self.on = on
        if on or not hasattr(self, "entered"):
            self.entered: Counter[str] = Counter()
            self.back: Counter[tuple[str, str]] = Counter()

    def __call__(self, frame: FrameType, event: str, _: object) -> None:
        """Note a call, as the interpreter reports it."""
        if event != "call" or not self.on:
            return
        here = self._ours(frame)
        caller = frame.f_back
        while caller is not None and self._ours(caller) is None:
            caller = caller.f_back
        there = self._ours(caller) if caller is not None else None
        if here is None or here == there:
            return
        self.entered[here] += 1
        if there is not None and HEIGHT.get(there.split("/")[0], 4) < HEIGHT.get(here.split("/")[0], 4):
            self.back[there, here] += 1

    def _ours(self, frame: FrameType) -> str | None:
        file = Path(frame.f_code.co_filename)
        ours = file.is_relative_to(SRC) and "templates" not in file.parts
        return str(file.relative_to(SRC)) if ours and frame.f_code.co_name != "<module>" else None

    def told(self, what: str) -> str:
        """Return what it found, in lines."""
        lines = [f"{what}: {len(self.entered)} files, {len(self.back)} ways back up, {self.back.total()} calls"]
        lines += [f"  {file} ({calls})" for file, calls in self.entered.items()]
        lines += [f"  back up: {there} → {here} ({calls})" for (there, here), calls in self.back.items()]
        return "\n".join(lines)


def traced(trace: Trace, client: TestClient, what: str, method: str, path: str, **asked: str) -> None:
    """Do it twice, and trace the second: the first fills what is kept for a while."""
    for on in (False, True):
        body = asked | {"revision": revision(client)} if method == "POST" else None
        trace.start(on)
        client.request(method, path, data=body, headers={"HX-Request": "true"})
        trace.start(False)
    print(trace.told(what))


def revision(client: TestClient) -> str:
    """The revision the bench shows."""
    found = re.search(r'id="shown" data-revision="(\d+)"', client.get(BENCH).text)
    assert found is not None
    return found[1]


def main() -> None:
    """Trace a tap on 14/2, and the bench read."""
    trace = Trace()
    threading.setprofile(trace)  # before any thread begins: those that run already are not followed
    with tempfile.TemporaryDirectory() as scratch:
        file = Path(scratch) / "demo.sqlite3"
        store = Store(open_database(file))
        put_demo(store)
        store.close()
        with TestClient(make_app(file), base_url="http://localhost") as client:
            traced(trace, client, "A read of the bench", "GET", BENCH)
            traced(trace, client, "A tap on 14/2", "POST", f"{BENCH}/edit/add-cable", gauge="14", insulated="2")


if __name__ == "__main__":
    main()
