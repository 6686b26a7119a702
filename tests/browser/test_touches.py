"""The touches each job takes: no more than aimed at, and what the README says."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver import Chrome

from . import touches
from .driving import server
from .hand import Hand

README = Path(__file__).parents[2] / "README.md"


@pytest.mark.parametrize("row", touches.ROWS, ids=lambda row: row.play.__name__)
def test_a_job_takes_no_more_touches_than_the_readme_says(row: touches.TouchRow, driver: Chrome, data: Path) -> None:
    with server(data, "serve") as address:
        hand = Hand(driver, address)
        touches.begin(hand)
        row.play(hand)
        count = touches.counted(hand, "touches")
        assert count <= row.aim, count
        assert touches.told(row, count) in README.read_text(), f"run tools/touches.py: {count}"
        assert hand.fits()
