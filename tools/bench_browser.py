"""What a person waits for, in real Chromium: from tap to painted answer, and what the first load of a bench weighs."""

from __future__ import annotations

import statistics
import sys
import tempfile
from importlib.resources import files
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from selenium.webdriver import Chrome
from tests.browser.driving import chromium, server

from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.store import Store

TAP = """
const done = arguments[0], button = document.getElementById("add-14-2");
const less = document.querySelector("#less-14-2 button");
const tap = document.querySelectorAll(".cables .letter").length > 8 && less ? less : button;
const begun = performance.now();
document.addEventListener("htmx:after:swap", () => requestAnimationFrame(() => {
  const channel = new MessageChannel();  // runs right after the frame is painted
  channel.port1.onmessage = () => done(performance.now() - begun);
  channel.port2.postMessage(0);
}), { once: true });
tap.click();
"""
WEIGHT = """
return performance.getEntriesByType("resource").concat(performance.getEntriesByType("navigation"))
  .reduce((sum, one) => sum + one.transferSize, 0)
"""


def large(folder: Path) -> None:
    """A job of two hundred boxes beside the demo house."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    boxes = tuple(demo.boxes[n % len(demo.boxes)].changed(id=f"b{n}", name=f"Box {n}") for n in range(200))
    engine = open_database(folder / "demo.sqlite3")
    Store(engine).add_job(demo.changed(boxes=boxes), "large")
    engine.dispose()


def taps(driver: Chrome, address: str, path: str, runs: int = 80) -> None:
    """Taps on the tally of one box, measured in the page."""
    driver.get("about:blank")
    driver.execute_cdp_cmd("Network.clearBrowserCache", {})
    driver.get(address + path)
    weight = driver.execute_script(WEIGHT)
    driver.set_script_timeout(20)
    took = [float(driver.execute_async_script(TAP)) for _ in range(runs)][10:]
    slow = statistics.quantiles(took, n=20)[-1]
    print(f"  {path}: first load {weight / 1000:.0f} kB over the wire")
    middle = statistics.median(took)
    print(f"    tap to painted answer: median {middle:.0f} ms, 95th percentile {slow:.0f} ms, {len(took)} taps")


def main() -> None:
    """Measures a box of the demo house and one of two hundred."""
    print("In Chromium   (aims: 200 kB; median 50 ms, 95th percentile 100 ms)")
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "data"
        large(folder)
        with server(folder) as address, chromium(Path(scratch) / "profile") as driver:
            taps(driver, address, "/jobs/schoolhouse/boxes/kitchen-bench")
            taps(driver, address, "/jobs/large/boxes/b3")


if __name__ == "__main__":
    main()
