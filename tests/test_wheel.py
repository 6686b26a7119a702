"""The wheel carries everything it needs and runs when installed elsewhere."""

from __future__ import annotations

import os
import subprocess
import sys
import urllib.request
from pathlib import Path
from zipfile import ZipFile

ROOT = Path(__file__).parents[1]


def test_the_wheel_runs_elsewhere(tmp_path: Path) -> None:
    build = [sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(tmp_path)]
    subprocess.run(build, cwd=ROOT, check=True, capture_output=True)
    (wheel,) = tmp_path.glob("*.whl")
    elsewhere = tmp_path / "elsewhere"
    ZipFile(wheel).extractall(elsewhere)
    assert not list(elsewhere.rglob("styles")) and list(elsewhere.rglob("licenses/LICENSE"))
    program = (
        "import nail_count, sys; assert 'elsewhere' in nail_count.__file__; from nail_count.cli import main; main()"
    )
    command = [sys.executable, "-c", program, "demo", "--port", "0", "--data", str(tmp_path / "data")]
    environment = os.environ | {"PYTHONPATH": str(elsewhere)}
    running = subprocess.Popen(command, cwd=tmp_path, env=environment, stdout=subprocess.PIPE, text=True)
    assert running.stdout is not None
    try:
        address = running.stdout.readline().split(" is at ")[1].split("/  ")[0]
        for path in (
            "/about",
            "/jobs/schoolhouse",
            "/static/app.css",
            "/static/htmx.min.js",
            "/static/fonts/archivo.woff2",
        ):
            with urllib.request.urlopen(address + path) as answer:
                assert answer.status == 200 and len(answer.read()) > 1000
    finally:
        running.terminate()
        running.wait(10)
        running.stdout.close()
