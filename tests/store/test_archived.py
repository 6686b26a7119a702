"""A job taken out as an archive and put in elsewhere is the same to the letter; a bad one leaves nothing behind."""

from __future__ import annotations

import json
import shutil
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from hashlib import sha256
from io import BytesIO
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from nail_count.demo.house import put_demo
from nail_count.files.archive import HISTORY, JOB, MANIFEST, BadArchive, opened_archive
from nail_count.store.database import open_database
from nail_count.store.revisions import Direction
from nail_count.store.snapshots import BoxFilter, NotFound
from nail_count.store.store import Store
from nail_count.trade.model.errors import Rejected
from nail_count.trade.rules.fit.box import DoesNotFit
from tests.store.acting import edit_box, edit_house, step_box, step_house


@pytest.fixture
def store(demo: Path, tmp_path: Path) -> Iterator[Store]:
    (tmp_path / "one").mkdir()
    shutil.copy(demo, tmp_path / "one" / "kept.sqlite3")
    made = Store(open_database(tmp_path / "one" / "kept.sqlite3"))
    yield made
    made.close()


@pytest.fixture
def other(tmp_path: Path) -> Iterator[Store]:
    made = Store(open_database(tmp_path / "other" / "kept.sqlite3"))
    yield made
    made.close()


def taken(store: Store, job: str = "schoolhouse") -> bytes:
    file = BytesIO()
    store.archives.write(job, file)
    return file.getvalue()


def put(store: Store, content: bytes) -> str:
    with opened_archive(BytesIO(content)) as archive:
        return store.archives.put(archive)


def worked_on(store: Store) -> None:
    """Acts of every kind: edits, steps back and forth, a box removed, a what-if kept and one left open."""
    edit_box(store, "schoolhouse", "porch", "add-cable", gauge="14", insulated="2")
    edit_box(store, "schoolhouse", "porch", "rename", name="Back porch “new”", room="Back porch")
    step_box(store, "schoolhouse", "porch", "undo")
    edit_house(store, "schoolhouse", "remove-box", box="pantry")
    edit_house(store, "schoolhouse", "put-circuit", id="11", breaker="15 A", label="new")
    step_house(store, "schoolhouse", "undo")
    trial = store.try_out("schoolhouse", "study")
    edit_box(store, trial, "study", "add-cable", gauge="14", insulated="3")
    store.end_trial(trial, {}, accept=True)
    left = store.try_out("schoolhouse", "loft")
    edit_box(store, left, "loft", "set-clamps", clamps="true")


def test_the_demo_with_its_pictures_is_the_same_elsewhere_to_the_letter(store: Store, other: Store) -> None:
    worked_on(store)
    content = taken(store)
    key = put(other, content)
    assert taken(other, key) == content and other.whole_job(key) == store.whole_job("schoolhouse")
    everything = BoxFilter(), lambda keys: keys
    one, two = store.outline("schoolhouse", *everything), other.outline(key, *everything)
    assert (one.cards, one.boxes, one.removed) == (two.cards, two.boxes, two.removed)
    assert store.uses("schoolhouse") == other.uses(key) and one.job.used == two.job.used
    for card in one.cards:
        here, there = (at.earlier(name, card.key, 1) for at, name in ((store, "schoolhouse"), (other, key)))
        assert here.steps == there.steps and here.then.box == there.then.box
        for photo in here.now.box.survey.photos:
            assert store.photo(photo.id, small=False) == other.photo(photo.id, small=False)
            assert Image.open(BytesIO(other.photo(photo.id, small=True))).format == "JPEG"
    step_box(store, "schoolhouse", "porch", "redo")
    step_box(other, key, "porch", "redo")
    step_house(store, "schoolhouse", "redo")
    step_house(other, key, "redo")
    edit_house(other, key, "bring-back", box="pantry")
    edit_house(store, "schoolhouse", "bring-back", box="pantry")
    assert other.whole_job(key) == store.whole_job("schoolhouse"), "what was undone can be redone elsewhere"
    assert put(other, content) != key, "brought in again it is another job"


def test_no_setup_code_and_no_token_is_in_it(store: Store) -> None:
    secret = store.tokens.make("van")
    store.put_code("schoolhouse", "washroom", "m1", "9482-SECRET")
    with zipfile.ZipFile(BytesIO(taken(store))) as archive:
        inside = b"".join(archive.read(name) for name in archive.namelist())
    assert b"9482-SECRET" not in inside and secret.encode() not in inside and b"0417-MADE-UP" not in inside


WAYS: tuple[Direction, ...] = ("undo", "redo")
Files = dict[str, bytes]


def rewritten(content: bytes, change: Callable[[Files], object], agree: bool = True) -> bytes:
    """An archive with something in it otherwise; `agree`: its manifest says so."""
    with zipfile.ZipFile(BytesIO(content)) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    change(files)
    if agree:
        manifest = json.loads(files[MANIFEST])
        said = {n: {"size": len(f), "sha256": sha256(f).hexdigest()} for n, f in files.items() if n != MANIFEST}
        files[MANIFEST] = json.dumps({**manifest, "files": said}).encode()
    made = BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, file in files.items():
            archive.writestr(name, file)
    return made.getvalue()


def line(number: int, **said: object) -> Callable[[Files], object]:
    """A line of the history otherwise; from the end where the number is negative."""

    def change(files: Files) -> None:
        lines = files[HISTORY].splitlines()
        lines[number] = json.dumps({**json.loads(lines[number]), **said}).encode()
        files[HISTORY] = b"\n".join(lines) + b"\n"

    return change


def picture(files: Files) -> str:
    return next(name for name in files if name.startswith("photos/"))


def renamed(files: Files) -> None:
    files[f"photos/{'0' * 32}.jpg"] = files.pop(picture(files))


def no_jpeg(files: Files) -> None:
    file = BytesIO()
    Image.new("RGB", (20, 20)).save(file, "PNG")
    files.pop(picture(files))
    files[f"photos/{sha256(file.getvalue()).hexdigest()[:32]}.jpg"] = file.getvalue()


def another_job(files: Files) -> None:
    files[JOB] = files[JOB].replace(b"The old schoolhouse", b"The new schoolhouse")


@pytest.mark.parametrize(
    ("change", "agree", "said"),
    [
        (lambda files: files.update({HISTORY: files[HISTORY][:-200]}), False, "as long as the manifest says"),
        (lambda files: files.update({JOB: files[JOB].replace(b"14", b"12")}), False, "not what the manifest says"),
        (lambda files: files.update({HISTORY: files[HISTORY].replace(b"14", b"12")}), False, "not what the manifest"),
        (lambda files: files.pop(HISTORY), True, "a manifest, a job and its history"),
        (lambda files: files.pop(JOB), False, "a manifest, a job and its history"),
        (lambda files: files.update({"../../elsewhere": b"x"}), True, "pictures as photos/<id>.jpg"),
        (lambda files: files.update({"/etc/elsewhere": b"x"}), True, "pictures as photos/<id>.jpg"),
        (lambda files: files.update({"photos/../../job.jpg": b"x"}), True, "pictures as photos/<id>.jpg"),
        (lambda files: files.update({"more.txt": b"x"}), False, "what its manifest names"),
        (lambda files: files.update({MANIFEST: b"{}"}), False, "know this kind of archive"),
        (lambda files: files.update({JOB: b'{"format": "nail-count job"}'}), True, "This job file has version"),
        (renamed, True, "this file is another one"),
        (no_jpeg, True, "none that was taken in before"),
        (another_job, True, "ends in another job"),
        (line(0, kind="begun"), True, "line 1"),
        (line(-1, change=9999), True, "revisions of one of its acts"),
        (line(-1, source=9), True, "stem from one before them"),
        (line(-1, back=7), True, "lead to a state"),
        (line(-1, body="{}"), True, "documents in this archive"),
        (line(-1, body="null", source=1), True, "ends in another job"),
        (line(-2, kind="document", what="head", key="head"), True, "each document once"),
    ],
)
def test_a_bad_archive_says_what_is_wrong_and_leaves_nothing(
    store: Store, other: Store, change: Callable[[Files], object], agree: bool, said: str
) -> None:
    with pytest.raises(BadArchive, match=said):
        put(other, rewritten(taken(store), change, agree))
    assert other.jobs() == [] and not other.has_job("the-old-schoolhouse")
    with pytest.raises(NotFound):
        other.job("the-old-schoolhouse")


def test_half_of_one_a_bomb_and_no_archive_at_all_are_refused_unread(store: Store, other: Store) -> None:
    content = taken(store)
    for cut in (0, 3, 40, len(content) // 2, len(content) - 1):
        with pytest.raises(BadArchive):
            put(other, content[:cut])
    bomb = rewritten(content, lambda files: files.update({JOB: b" " * 30_000_000}))
    assert len(bomb) < 400_000
    with pytest.raises(BadArchive, match=r"job\.json may have at most 20 MB"):
        put(other, bomb)
    large = rewritten(content, lambda files: files.update({picture(files): b"\0" * 6_000_000}))
    with pytest.raises(BadArchive, match="may have at most 5 MB"):
        put(other, large)
    flipped = bytearray(content)
    flipped[200] ^= 0xFF
    with pytest.raises(BadArchive):
        put(other, bytes(flipped))
    twice = BytesIO(content)
    with zipfile.ZipFile(twice, "a") as archive, pytest.warns(UserWarning, match="Duplicate"):
        archive.writestr(JOB, b"{}")
    with pytest.raises(BadArchive, match="each once"):
        put(other, twice.getvalue())
    assert other.jobs() == []


@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.data())
def test_whatever_was_done_its_archive_gives_the_same_again(data: st.DataObject) -> None:
    """Any acts on boxes and house, undone and redone: out, in and out again gives the same bytes."""
    with tempfile.TemporaryDirectory() as folder:
        store = Store(open_database(Path(folder) / "kept.sqlite3"))
        put_demo(store)
        boxes = ["porch", "study", "hall-row"]
        for _ in range(data.draw(st.integers(1, 12))):
            box = data.draw(st.sampled_from(boxes))
            act = data.draw(st.integers(0, 5))
            try:
                match act:
                    case 0:
                        edit_box(store, "schoolhouse", box, "add-cable", gauge="14", insulated="2")
                    case 1:
                        name = data.draw(st.text(st.characters(codec="utf-8", exclude_characters="\0"), max_size=20))
                        edit_box(store, "schoolhouse", box, "rename", name=name, room="Hall")
                    case 2 | 3:
                        step_box(store, "schoolhouse", box, WAYS[act - 2])
                    case 4:
                        step_house(store, "schoolhouse", data.draw(st.sampled_from(WAYS)))
                    case _:
                        edit_house(
                            store, "schoolhouse", data.draw(st.sampled_from(("remove-box", "copy-box"))), box=box
                        )
            except (Rejected, DoesNotFit, NotFound):
                continue
        content = taken(store)
        assert taken(store, put(store, content)) == content
        store.close()
