"""Answers worked out: counts, hook-ups, ways to make a box hold, parts, days. By the same rules as on the pages."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated, Any, Literal

from anyio import to_thread
from fastapi import APIRouter, Query, Request
from starlette.responses import Response

from ...files.boxes_table import boxes_in
from ...files.fix_report import fix_data
from ...files.hookup_report import hookup_data
from ...files.job_json import BadFile
from ...files.parts_report import parts_data
from ...files.report import box_data, check_data
from ...files.spread import read_spread
from ...files.steps_report import steps_data
from ...trade.assume.wired import look_as_usual
from ...trade.model.errors import Rejected
from ...trade.model.job import Library
from ...trade.plan.progress import progress_of, totals
from ...trade.quick_entry.directory import read_directory
from ...trade.quick_entry.rows import BringInBoxes, BringInCircuits, landing, new_circuits
from ...trade.rules.check import check_job, fitting_job
from ...trade.search.whole_job import Mended, mended, to_mend, total
from ...trade.wiring.hookup.look import look
from ...trade.wiring.identify.next_reading import next_reading
from ...trade.wiring.identify.practice_score import inference_of
from .. import workers
from ..deps import TheStore
from ..searches import day_data_of, searched_ways, store_of, until
from ..threads import beside
from ..transfers import checked
from .common import Key, problems
from .edits import edit_data

router = APIRouter(tags=["answers"])
JOB_BODY = {"requestBody": {"required": True, "content": {"application/json": {
    "schema": {"$ref": "#/components/schemas/Job"},
}}}}  # fmt: skip
TEXT_BODY = {"requestBody": {"required": True, "content": {"text/plain": {"schema": {"type": "string"}}}}}


@router.post("/check", openapi_extra=JOB_BODY, responses=problems(413))
async def check_sent(request: Request) -> dict[str, Any]:
    """Return all answers for the job file sent. Nothing is kept."""
    content = await request.body()

    def check() -> dict[str, Any]:
        try:
            return checked(content)
        except BadFile as wrong:
            raise Rejected.of(wrong.problems) from wrong

    return await to_thread.run_sync(check)


@router.get("/jobs/{job}/check", responses=problems())
async def check_kept(store: TheStore, job: Key) -> dict[str, Any]:
    """All answers of a job, as `nail-count check --json` prints them."""

    def check() -> dict[str, Any]:
        whole = store.whole_job(job)
        return check_data(whole, check_job(whole))

    return await beside(check)


@router.get("/jobs/{job}/boxes/{box}/check", responses=problems())
def check_box(store: TheStore, job: Key, box: Key) -> dict[str, Any]:
    """All answers of a box: volume, depth and bulk, each channel, what forbids a choice; each with its source."""
    kept = store.box(job, box)
    return box_data(kept.check, kept.verdict)


@router.get("/jobs/{job}/boxes/{box}/hook-up", responses=problems())
async def hook_up(
    store: TheStore,
    job: Key,
    box: Key,
    stage: Annotated[Literal["found", "planned"], Query(description="As found, or as planned.")] = "planned",
) -> dict[str, Any]:
    """What joins what in a box: plan, proof in every state, readings to expect, work."""

    def see() -> dict[str, Any]:
        kept = store.wired_box(job, box)
        assert kept.wiring is not None
        return hookup_data(*look_as_usual(kept.wiring, box) if stage == "planned" else (look(kept.wiring, box, stage),))

    return await beside(see)


@router.get("/jobs/{job}/boxes/{box}/steps", responses=problems())
async def steps_of(store: TheStore, job: Key, box: Key) -> dict[str, Any]:
    """The steps of the work in a box, in order: each as sentences, and as the operations they are made from."""

    def see() -> dict[str, Any]:
        kept = store.wired_box(job, box)
        assert kept.wiring is not None
        return steps_data(kept.wiring, box, store.ticks(job))

    return await beside(see)


@router.get("/jobs/{job}/boxes/{box}/ways", responses=problems())
async def ways_of(store: TheStore, job: Key, box: Key) -> dict[str, Any]:
    """What would make a box hold, the least work first; each way with the edits that do it."""

    def find() -> dict[str, Any]:
        kept = store.box(job, box)
        around = store.mended_in(job, kept)
        found = searched_ways(around, box)
        rows = [Mended(box, kept.box.name, kept.box.room, found)]
        said: dict[str, Any] = fix_data(around, rows, total(around, rows))["boxes"][0]
        edits = [[edit_data(edit) for edit in way.edits] for way in found.ways]
        return {**said, "ways": [{**way, "edits": made} for way, made in zip(said["ways"], edits, strict=True)]}

    return await to_thread.run_sync(find)


@router.get("/jobs/{job}/ways", responses=problems())
async def ways_of_all(
    store: TheStore,
    job: Key,
    seconds: Annotated[float, Query(ge=0.1, le=120, description="So long it is looked.")] = 30,
) -> dict[str, Any]:
    """What would make every box hold that fails, the least work for each; those not come to in time are left out."""

    store.job(job)
    return await workers.run_async("search", _ways_of_all, store.file, job, seconds)


def _ways_of_all(database: Path, job: str, seconds: float) -> dict[str, Any]:
    whole = store_of(database).whole_job(job)
    wanted = to_mend(whole)
    rows = list(mended(whole, wanted, until(seconds)))
    edits = {one.box: [edit_data(edit) for edit in one.way.edits] for one in rows if one.way}
    said = fix_data(whole, rows, total(whole, rows))
    done = {one.box for one in rows}
    return {**said, "edits": edits, "left": [key for key in wanted if key not in done]}


@router.get("/jobs/{job}/boxes/{box}/wires", responses=problems())
def wires_of_box(store: TheStore, job: Key, box: Key) -> dict[str, Any]:
    """What can be told of a box's conductors: proven, likely, open or at odds; and the reading to take next."""
    kept = store.box(job, box)
    head = kept.job.head
    worked = inference_of(kept.box, head.terms, head.house.year, kept.ends)
    following = None if worked.stop else next_reading(worked)
    return {
        "conductors": [
            {
                "id": one.id, "standing": one.standing, "best": one.best, "share": round(one.share, 3),
                "possible": list(one.possible), "why": list(one.why),
            }
            for one in worked.conductors
        ],
        "warnings": list(worked.warnings),
        "next_reading": None if following is None else {
            "words": following.words, "before": list(following.state), "caution": following.caution,
            "shows": [{"reading": shown, "leaves": left} for shown, left in following.outcomes],
        },
    }  # fmt: skip


@router.get("/jobs/{job}/progress", responses=problems())
async def progress(store: TheStore, job: Key) -> dict[str, Any]:
    """How far every box has come, stage by stage."""

    def see() -> dict[str, Any]:
        rows = progress_of(fitting_job(store.whole_job(job)))
        return {
            "boxes": [
                {
                    "box": row.box.id,
                    "stages": [{"stage": one.name, "reached": one.reached, "says": one.says} for one in row.stages],
                }
                for row in rows
            ],
            "totals": {name: {"done": done, "of": of} for name, (done, of) in totals(rows).items()},
        }

    return await beside(see)


@router.get("/jobs/{job}/parts", responses=problems())
async def parts_of(store: TheStore, job: Key) -> dict[str, Any]:
    """What the plans of a job take: parts, what they are for, tools."""
    return await beside(lambda: parts_data(fitting_job(store.whole_job(job))))


@router.get("/jobs/{job}/day", responses=problems())
async def days_of(
    store: TheStore,
    job: Key,
    seconds: Annotated[float, Query(ge=0.1, le=60, description="The best plan is looked for so long.")] = 5,
) -> dict[str, Any]:
    """The days of a job by breaker: which places when, which breakers are off, who has no power."""
    store.job(job)
    return await workers.run_async("search", day_data_of, store.file, job, seconds)


@router.post(
    "/jobs/{job}/read-table", openapi_extra=TEXT_BODY, responses=problems(400, 413), response_model=dict[str, Any]
)
async def read_table(
    request: Request, store: TheStore, job: Key, room: Annotated[str, Query(max_length=60)] = ""
) -> Response:
    """A table of boxes as CSV, row by row as understood, and the edit that imports the rows that are; nothing is
    kept."""
    text = await _text(request)

    def look_over() -> Response:
        try:
            house = store.house(job)
            here = [(card.room, card.name) for card in house.all_cards]
            circuits = house.job.head.circuit_ids
            read = workers.run("file", _table_read, text, house.job.sheets, circuits, here, room)
            return Response(read, media_type="application/json")
        except BadFile as wrong:
            raise Rejected.of(wrong.problems) from wrong

    return await to_thread.run_sync(look_over)


def _table_read(
    text: str, sheets: Library, circuits: frozenset[str], here: Sequence[tuple[str, str]], room: str
) -> bytes:
    """Read a table in a process of its own; how it is understood, as JSON. Raises BadFile."""
    columns, rows = boxes_in(read_spread(text), sheets, circuits, here, room)
    boxes = landing(rows)
    understood = {
        "columns": columns,
        "rows": [
            {
                "row": row.number,
                "is_here": row.is_here,
                "understood": {cell.column: cell.means for cell in row.reading.cells if cell.means},
                "expected": {cell.column: cell.expected for cell in row.reading.problems},
            }
            for row in rows
        ],
        "edit": edit_data(BringInBoxes(new=boxes)) if boxes else None,
    }
    return json.dumps(understood, ensure_ascii=False).encode()


@router.post("/jobs/{job}/read-directory", openapi_extra=TEXT_BODY, responses=problems(400, 413))
async def read_panel(
    request: Request, store: TheStore, job: Key, amps: Annotated[int | None, Query(ge=1, le=200)] = None
) -> dict[str, Any]:
    """A panel directory, line by line as understood, and the edit that imports the lines that are; nothing is kept."""
    text = await _text(request)

    def read() -> dict[str, Any]:
        lines = read_directory(text, amps)
        new = new_circuits(lines, store.job(job).head.circuit_ids)
        return {
            "lines": [{"line": line.text, "understood": line.means, "expected": line.expected} for line in lines],
            "edit": edit_data(BringInCircuits(new=new)) if new else None,
        }

    return await beside(read)


async def _text(request: Request) -> str:
    try:
        return (await request.body()).decode("utf-8-sig")
    except UnicodeDecodeError as wrong:
        raise Rejected(f"Send text in UTF-8; byte {wrong.start} isn't") from wrong
