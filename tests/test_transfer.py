"""nail-count export and import: whole files, whole jobs, sentences."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

import pytest
from openpyxl import load_workbook
from PIL import Image
from pypdf import PdfReader

from nail_count.demo.house import put_demo
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.web.serve import database_in
from tests.test_cli import DEMO, run


@pytest.fixture
def data(tmp_path: Path) -> Path:
    """A data folder with the demo house in it."""
    folder = tmp_path / "data"
    store = Store(open_database(database_in(folder)))
    put_demo(store)
    store.close()
    return folder


def kept(data: Path) -> Store:
    return Store(open_database(database_in(data)))


def test_a_job_goes_out_in_every_form_and_comes_back_the_same(data: Path, tmp_path: Path) -> None:
    out, here = tmp_path / "out", ("--data", str(data))
    forms = ("--archive", "a.archive", "--json", "j.json", "--xlsx", "x.xlsx", "--csv", "t", "--pdf", "p.pdf")
    asked = [str(out / one) if not one.startswith("--") else one for one in forms]
    done = run("export", "--job", "schoolhouse", *here, *asked)
    assert done.returncode == 0, done.stderr.decode()
    assert {path.name for path in out.iterdir()} == {"a.archive", "j.json", "x.xlsx", "t", "p.pdf"}
    assert load_workbook(out / "x.xlsx")["Counts"] and len(PdfReader(out / "p.pdf").pages) > 10
    assert run("export", str(out / "j.json"), "--pdf", str(tmp_path / "bare.pdf")).returncode == 0
    pictures = [
        sum(len(page.images) for page in PdfReader(file).pages) for file in (out / "p.pdf", tmp_path / "bare.pdf")
    ]
    assert pictures[0] > pictures[1] == 0, "pictures are kept here, and in no job file"
    again = run("export", "--job", "schoolhouse", *here, "--archive", str(out / "a.archive"))
    assert again.returncode == 2 and b"This file is there already" in again.stderr
    other = ("--data", str(tmp_path / "other"))
    assert run("import", str(out / "a.archive"), *other).returncode == 0
    assert run("import", str(out / "j.json"), *other).returncode == 0
    store, first = kept(tmp_path / "other"), kept(data)
    jobs = [store.whole_job(key) for key in ("the-old-schoolhouse", "the-old-schoolhouse-2")]
    assert jobs[0] == jobs[1] == first.whole_job("schoolhouse")
    store.close()
    first.close()
    back = run("export", "--job", "the-old-schoolhouse", *other, "--archive", str(tmp_path / "b.archive"))
    assert back.returncode == 0 and (tmp_path / "b.archive").read_bytes() == (out / "a.archive").read_bytes()
    assert not [path for path in tmp_path.rglob(".*") if path.name != ".hold"], "nothing half is left behind"


def test_every_drawing_goes_out_as_svg_and_as_png(tmp_path: Path) -> None:
    done = run("export", str(DEMO / "hallway.json"), "--svg", str(tmp_path / "s"), "--png", str(tmp_path / "p"))
    assert done.returncode == 0, done.stderr.decode()
    names = {path.stem for path in (tmp_path / "s").iterdir()}
    assert names == {path.stem for path in (tmp_path / "p").iterdir()}
    assert {name.rpartition("-")[2] for name in names} >= {"count", "front", "side", "wires"}
    assert any(name.startswith("map-1") for name in names)
    for path in (tmp_path / "p").iterdir():
        drawn = Image.open(BytesIO(path.read_bytes())).convert("L")
        shades = drawn.histogram()
        assert drawn.width > 1000 and shades[255] > shades[0] > 200, f"{path.name}: expected ink on white"


TABLE = "name,room,gangs,volume,cables\nCounter,Kitchen,2,34,14/2 x2\nSink,Kitchen,two,20.3,14/2\n"


def test_a_table_and_a_directory_land_in_a_job_as_one_act_each(data: Path, tmp_path: Path) -> None:
    (tmp_path / "boxes.csv").write_text(TABLE)
    (tmp_path / "panel.txt").write_text("11 Attic 15A\n12 open\n1 Kitchen 15A\n")
    to = ("--into", "schoolhouse", "--data", str(data))
    store = kept(data)
    before = store.whole_job("schoolhouse")
    looked = run("import", str(tmp_path / "boxes.csv"), *to, "--look")
    assert looked.returncode == 1 and b"3: stays out: gangs: enter" in looked.stdout
    assert store.whole_job("schoolhouse") == before
    assert run("import", str(tmp_path / "boxes.csv"), *to).returncode == 1
    assert [card.name for card in store.house("schoolhouse").cards][-1] == "Counter"
    assert run("import", str(tmp_path / "boxes.csv"), *to).returncode == 2, "it is there already"
    assert run("import", str(tmp_path / "panel.txt"), *to, "--directory").returncode == 0
    done = [one.sentence for one in store.changes.before("schoolhouse", None, 2)]
    assert done == ["1 breaker imported from a directory", "1 box imported from a table"]
    store.close()


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("import", "{there}/nothing.json"), "This file can't be read"),
        (("import", "{there}/empty.json"), "This file is empty"),
        (("import", "{there}/half.archive"), "This archive is not whole"),
        (("import", "{there}/empty.json", "--into", "nowhere"), "Pick one of the jobs kept here"),
        (("import", "{there}/empty.json", "--into", "schoolhouse"), "There is nothing in this table"),
        (("import", "{there}/bare.csv", "--into", "schoolhouse"), "names the columns"),
        (("import", "{there}/large.csv", "--into", "schoolhouse"), "at most 900 kB"),
        (("import", "{there}/empty.json", "--look"), "Give --into"),
        (("export", "--job", "nowhere", "--json", "{there}/x"), "Pick one of the jobs kept here: schoolhouse"),
        (("export", "--json", "{there}/x"), "Name a job FILE, or give --job"),
        (("export", "{there}/empty.json"), "Give --xlsx"),
        (("export", "{there}/empty.json", "--archive", "{there}/x"), "Give --job with --archive"),
        (("export", "--job", "schoolhouse", "--json", "{there}/bare.csv/x"), "It can't be written there"),
    ],
)
def test_what_cannot_be_done_is_a_sentence_and_status_2(
    data: Path, tmp_path: Path, arguments: tuple[str, ...], said: str
) -> None:
    there = tmp_path / "there"
    there.mkdir()
    (there / "empty.json").write_bytes(b"")
    (there / "half.archive").write_bytes(b"PK\x03\x04and no more")
    (there / "bare.csv").write_text("Counter,Kitchen\n")
    with (there / "large.csv").open("wb") as large:
        large.truncate(50_000_000)
    before = sorted(there.iterdir())
    done = run(*(one.format(there=there) for one in arguments), "--data", str(data))
    assert done.returncode == 2 and said in done.stderr.decode(), done.stderr.decode()
    assert sorted(there.iterdir()) == before
    store = kept(data)
    assert [card.key for card in store.jobs()] == ["schoolhouse"]
    store.close()
