"""Acts on what is kept, said shortly: each as the newest state is seen, unless a test says what was seen."""

from __future__ import annotations

from nail_count.store.revisions import Direction
from nail_count.store.snapshots import BoxSnapshot, Done
from nail_count.store.store import Store
from nail_count.trade.documents import HEAD, DocumentId
from nail_count.trade.edits.datasheets import ChangeSheet
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.model.datasheet import Datasheet


def edit_box(store: Store, job: str, box: str, act: str, /, **said: object) -> BoxSnapshot:
    """An edit of a box."""
    return store.act_on_box(job, box, read_edit(act, {**said, "box": box}), seen=store.box(job, box).number)


def edit_house(store: Store, job: str, act: str, /, **said: object) -> Done:
    """An edit of a house."""
    return store.act(job, read_edit(act, said))


def change_sheet(store: Store, job: str, seen: int, sheet: Datasheet, because: str = "Changed") -> Done:
    """A sheet put right."""
    return store.act(job, ChangeSheet(sheet=sheet, because=because), {DocumentId("sheet", sheet.id): seen})


def step_box(store: Store, job: str, box: str, way: Direction, seen: int | None = None) -> BoxSnapshot:
    """Undo or redo on a box."""
    store.step(job, DocumentId("box", box), store.box(job, box).number if seen is None else seen, way=way)
    return store.box(job, box)


def step_house(store: Store, job: str, way: Direction, seen: int | None = None) -> str:
    """Undo or redo on a house; what was done, as a sentence."""
    store.step(job, HEAD, store.job(job).number if seen is None else seen, way=way)
    return store.job(job).last


def step_sheet(store: Store, job: str, id: str, way: Direction) -> None:
    """Undo or redo on a sheet."""
    store.step(job, DocumentId("sheet", id), store.sheet(job, id).number, way=way)
