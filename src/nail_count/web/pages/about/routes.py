"""What stands behind the one line of caution, and what ships with the application."""

from __future__ import annotations

from importlib.resources import files

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ...templating import render

router = APIRouter(include_in_schema=False)


@router.get("/about")
def show(request: Request) -> Response:
    """Cautions, licences."""
    folder = files("nail_count.web") / "static" / "licences"
    licences = [(entry.name.removesuffix(".txt"), entry.read_text()) for entry in folder.iterdir()]
    return render(request, "about/page.html", licences=sorted(licences))


@router.get("/words")
def words(request: Request) -> Response:
    """The trade's words."""
    return render(request, "about/words.html")
