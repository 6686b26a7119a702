"""Compare two worktrees act by act: what a person waits for from tap to paint, and how much each act sends.

    .venv/bin/python tools/compare_acts.py BEFORE AFTER [ACTS]

Both servers run at once, each on a demo house of its own. One browser does the acts of each in turn, so that a slow
phase of the machine meets both alike. Prints the medians, and AFTER as a multiple of BEFORE.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from bench_browser import ACTS, HOOKUP, PRESS, TAP
from selenium.webdriver import Chrome
from tests.browser.driving import chromium

BENCH = "/jobs/schoolhouse/boxes/kitchen-bench"
SENT = """
const one = performance.getEntriesByType("resource").filter(each => /edit|undo/.test(each.name)).at(-1);
return one ? [one.encodedBodySize, one.responseStart - one.requestStart] : [0, 0]
"""
"""Of the last act: the bytes of its answer, and how long the server took for it [ms]."""
WARM = 10
"""Acts before any is counted."""


@contextmanager
def server(tree: Path, data: Path) -> Iterator[str]:
    """Run a worktree's own server with its demo house on an empty folder; yield its address."""
    command = [sys.executable, "-c", "from nail_count.cli import main; main()", "demo", "--data", str(data)]
    environment = os.environ | {"PYTHONPATH": str(tree / "src")}
    process = subprocess.Popen([*command, "--port", "0"], stdout=subprocess.PIPE, text=True, env=environment)
    assert process.stdout is not None
    try:
        yield process.stdout.readline().split(" is at ")[1].split("/  ")[0]
    finally:
        process.terminate()
        process.wait(10)


def acts(
    driver: Chrome, tabs: dict[str, str], scripts: list[str], turns: int
) -> dict[str, list[tuple[float, int, float]]]:
    """Do the acts in every tab in turn. Return for each [ms] to paint, bytes, [ms] of the server; by the tab's name."""
    took: dict[str, list[tuple[float, int, float]]] = {name: [] for name in tabs}
    for turn in range(turns + WARM):
        for name, tab in tabs.items():
            driver.switch_to.window(tab)
            for script in scripts:
                arguments = (turn,) if "[turn, done]" in script else ()
                ms = float(driver.execute_async_script(script, *arguments))
                if turn >= WARM:
                    took[name].append((ms, *driver.execute_script(SENT)))
                driver.execute_script("performance.clearResourceTimings()")
    return took


def main() -> None:
    """Compare the bench, and the hook-up's acts together."""
    if len(sys.argv) < 3:
        sys.exit(f"Name two worktrees.\n\n{__doc__}")
    trees = dict(zip(("before", "after"), map(Path, sys.argv[1:3]), strict=True))
    turns = int(sys.argv[3]) if len(sys.argv) > 3 else 300
    with ExitStack() as stack:
        scratch = Path(stack.enter_context(tempfile.TemporaryDirectory()))
        addresses = {name: stack.enter_context(server(tree, scratch / name)) for name, tree in trees.items()}
        driver = stack.enter_context(chromium(scratch / "profile"))
        driver.set_script_timeout(30)
        pages = (
            ("bench: a cable in and out", BENCH, [TAP], turns),
            ("hook-up", HOOKUP, [PRESS.replace("WHAT", what) for what in ACTS.values()], turns // len(ACTS)),
        )
        for title, path, scripts, each in pages:
            tabs = {}
            for name, address in addresses.items():
                driver.switch_to.new_window("tab")
                driver.get(address + path)
                tabs[name] = driver.current_window_handle
            took = acts(driver, tabs, scripts, each)
            middle = {name: statistics.median(ms for ms, _, _ in found) for name, found in took.items()}
            print(f"{title}, {len(took['after'])} acts of each in turn")
            for name, found in took.items():
                slow = statistics.quantiles([ms for ms, _, _ in found], n=20)[-1]
                most = max(sent for _, sent, _ in found)
                sent = statistics.median(sent for _, sent, _ in found)
                weight = f"sent {sent:.0f} bytes, at most {most}"
                server_ms = statistics.median(ms for _, _, ms in found)
                print(
                    f"  {name}: median {middle[name]:.1f} ms, 95th {slow:.1f} ms, server {server_ms:.1f} ms; {weight}"
                )
            print(f"  after / before: {middle['after'] / middle['before']:.2f}   (aim: at most 1.10)", flush=True)


if __name__ == "__main__":
    main()
