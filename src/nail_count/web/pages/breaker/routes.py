"""The breaker that feeds a box, found step by step."""

from __future__ import annotations

from ...box_screen import Screen, one_section, screen_router
from ..survey.view import survey_view

BREAKER = Screen(
    "breaker",
    "breaker/page.html",
    one_section("breaker-search", "breaker/breaker.html", lambda *shown: survey_view("breaker", *shown)),
)
router = screen_router(BREAKER)
