"""Every table over a set of kinds has an entry for each: a new kind that is left out of one fails here, by name."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterator, Mapping
from importlib.resources import files
from types import ModuleType
from typing import Any, Literal, get_args, get_origin, get_type_hints

import pytest

import nail_count
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import DEVICE_KINDS, Datasheet, DeviceKind
from nail_count.trade.model.job import Job
from nail_count.trade.plan.commission.steps import to_commission
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.papers.all_papers import papers
from nail_count.trade.plan.parts.parts_list import parts_list
from nail_count.trade.plan.parts.tools import tools
from nail_count.trade.plan.progress import progress_of
from nail_count.trade.rules.check import check_job
from nail_count.web import pages

SOME: Mapping[str, str] = {
    "nail_count.files.pdf_ink.TONES": "what has no tone is not painted",
    "nail_count.trade.plan.install.operations._SENTENCES": "the other operations are worded by their step",
    "nail_count.trade.rules.load.findings.WANTS": "only transformers want a phase",
    "nail_count.trade.rules.load.heat.SHARE": "only what cuts the phase turns a share of its load into heat",
    "nail_count.trade.rules.minutes.IN_LATH": "the other moves take as long in any wall",
}
"""Tables that name some kinds only, and why that is right."""


def modules() -> Iterator[ModuleType]:
    for found in pkgutil.walk_packages(nail_count.__path__, "nail_count."):
        if ".migrations" not in found.name:
            yield importlib.import_module(found.name)


def tables() -> Iterator[tuple[str, frozenset[str], Mapping[str, Any]]]:
    """Every table whose keys are of a set of kinds: its name, the kinds, and itself."""
    for module in modules():
        for name, hint in get_type_hints(module).items():
            if get_origin(hint) in (dict, Mapping) and get_origin(get_args(hint)[0]) is Literal:
                yield f"{module.__name__}.{name}", frozenset(get_args(get_args(hint)[0])), getattr(module, name)


def test_every_table_over_a_set_of_kinds_is_complete() -> None:
    found = {name: kinds - set(table) for name, kinds, table in tables()}
    assert {name: missing for name, missing in found.items() if missing and name not in SOME} == {}
    assert len(found) > 20, "expected the tables to be found at all"
    assert all(found[name] for name in SOME), "expected no reason for a table that is complete"


@pytest.mark.parametrize("kind", DEVICE_KINDS)
def test_every_kind_of_device_passes_through_every_rule(kind: DeviceKind) -> None:
    """Nothing breaks off, whatever is in a gang: the count, the hook-up, steps, parts, tools, papers, progress."""
    leads = [{"role": role, "kind": "lead"} for role in ("line", "load", "neutral", "ground")]
    sheet = Datasheet.model_validate(
        {"id": "it", "name": "It", "kind": kind, "terminals": leads, "radio": "hub", "channels": [{}]}
    )
    item = {"id": "d1", "sheet": "it", "loads": [{"id": "l1", "kind": "led", "each": "9 W"}]}
    put: dict[str, Any] = {"modules": [item]} if sheet.is_module else {"devices": [item | {"gang": 1}]}
    said = {"id": "b", "name": "B", "room": "R", "circuit": "1", "cables": [{"id": "A", "gauge": 14, "insulated": 2}]}
    box = Box.model_validate({**said, "planned": {"enclosure": {"volume": "20 in3"}, **put}})
    job = Job.model_validate({"name": "J", "circuits": [{"id": "1"}], "sheets": [sheet], "boxes": [box]})
    (checked,) = check_job(job).boxes
    assert checked.answers and checked.bulk.total is not None
    near = wired_with(Documents(JobAtHand(job), {}), box)
    assert install_steps(near, "b", ()) and to_commission(near, "b")
    lines = parts_list(job)
    assert any(line.part.kind in ("device", "module", "blank") for line in lines) and tools(job, lines)
    assert list(papers(job)) and progress_of(job)


def test_every_kind_of_device_has_a_face() -> None:
    """Shown by its shape on the front of a box; what lies loose or is blank has none of its own."""
    face = (files("nail_count.web") / "templates" / "bench" / "face.html").read_text()
    assert {kind for kind in DEVICE_KINDS if f"'{kind}'" not in face} == {"module", "blank"}


def test_every_screen_is_reached() -> None:
    """Each package of pages is named in the application, and under the contract that its routes know its view."""
    app = (files("nail_count.web") / "app.py").read_text()
    there = {found.name for found in pkgutil.iter_modules(pages.__path__)}
    assert {name for name in there if f"from .pages.{name} import" not in app} == set()
