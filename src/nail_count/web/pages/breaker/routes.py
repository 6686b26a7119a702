"""The breaker that feeds a box, found step by step."""

from __future__ import annotations

from ...box_screen import Screen, screen_router
from ..survey.view import survey_view

BREAKER = Screen("breaker", "breaker/page.html", "breaker/breaker.html", lambda *shown: survey_view("breaker", *shown))
router = screen_router(BREAKER)
