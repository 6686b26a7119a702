"""The picture of the code is what the imports give."""

from __future__ import annotations

import runpy
from pathlib import Path

TOOL = runpy.run_path(str(Path(__file__).parent.parent / "tools" / "architecture.py"))


def test_the_picture_is_what_the_imports_give() -> None:
    """Run 'python tools/architecture.py' and commit it where this fails."""
    assert TOOL["PICTURE"].read_text(encoding="utf-8") == TOOL["drawn"]()
    rooms = TOOL["rooms"]()
    assert set(rooms["trade/rules"]) == {"trade/model", "trade/text"}, "a rule knows things and words alone"
    assert not any(room.startswith(("web", "store", "files")) for room in rooms["drawing"])


def test_every_file_that_the_page_names_is_there() -> None:
    page = (Path(__file__).parent.parent / "docs" / "architecture.md").read_text(encoding="utf-8")
    named = [word for word in page.split("`")[1::2] if "/" in word or word.endswith(".py")]
    source = TOOL["ROOT"] / "src" / "nail_count"
    assert [word for word in named if not ((source / word).exists() or (TOOL["ROOT"] / word).exists())] == []
