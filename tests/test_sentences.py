"""The tool that reads every sentence: what it finds, what it lets pass, and that its list only shrinks."""

from __future__ import annotations

import json
import subprocess
import sys
from importlib.machinery import SourceFileLoader
from importlib.util import module_from_spec, spec_from_loader
from pathlib import Path
from typing import Any

import pytest

TOOL = Path(__file__).parents[1] / "tools/sentences"
CODE = '''"""Do it anew."""

# nobody looked at what is there
TEXT = f"Breaker {7} hangs on {8} amps"
NAME = "what-is"
'''
PAGE = '<p>What is not said</p>{# said #}{{ m.field("x") }}<input placeholder="as such, a word">'


@pytest.fixture
def tool(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Any:
    spec = spec_from_loader("sentences", SourceFileLoader("sentences", str(TOOL)))
    assert spec is not None and spec.loader is not None
    made = module_from_spec(spec)
    monkeypatch.setitem(sys.modules, "sentences", made)
    spec.loader.exec_module(made)
    (tmp_path / "templates").mkdir()
    (tmp_path / "code.py").write_text(CODE)
    (tmp_path / "templates/page.html").write_text(PAGE)
    for name, value in (
        ("ROOT", tmp_path), ("SOURCE", tmp_path), ("TEMPLATES", tmp_path / "templates"),
        ("ALLOWED", tmp_path / "allowed.json"),
    ):  # fmt: skip
        monkeypatch.setattr(made, name, value)
    return made


def test_what_it_finds_and_where(tool: Any) -> None:
    assert tool.counted() == {
        "text": {"hangs on": 1},
        "template": {"as such": 1, "said": 1, "what is": 1},
        "docstring": {"anew": 1},
        "comment": {"nobody looked": 1, "what is": 1},
    }


def test_one_more_is_refused_and_one_less_lowers_the_list(tool: Any, tmp_path: Path) -> None:
    tool.shrink()
    assert tool.check() == 0
    (tmp_path / "more.py").write_text('TEXT = "It hangs on this"\n')
    assert tool.check() == 1
    tool.shrink()
    assert tool.check() == 1 and json.loads(tool.ALLOWED.read_text())["text"] == {"hangs on": 1}, "never raised"
    (tmp_path / "more.py").unlink()
    (tmp_path / "code.py").write_text("")
    assert tool.check() == 1
    tool.shrink()
    assert tool.check() == 0 and json.loads(tool.ALLOWED.read_text())["text"] == {}


def test_what_the_demo_says_is_read_whole() -> None:
    """Pages, papers, commands and errors, each with its place."""
    told = subprocess.run([sys.executable, TOOL, "--met"], capture_output=True, text=True, check=True).stdout
    places = [line.split(" ")[0].rstrip(":") for line in told.splitlines()]
    counts = {kind: places.count(kind) for kind in ("paper", "command", "error")}
    assert sum(place.startswith("/") for place in places) > 300 and min(counts.values()) > 10, counts
