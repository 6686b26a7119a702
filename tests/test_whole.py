"""A job is always whole: any sequence of acts, in any order, and every page still answers.

Set NAIL_COUNT_FUZZ to a number to run that many times as long: `make fuzz`.
"""

from __future__ import annotations

import os
import re
import tempfile
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import quote

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job, write_job
from nail_count.store.snapshots import BoxFilter
from nail_count.store.store import Store
from nail_count.trade.edits.base import BoxEdit
from nail_count.trade.edits.datasheets import AddSheet, ChangeSheet
from nail_count.trade.edits.house.boxes import BringIn
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.text.datasheet_form import write_sheet
from nail_count.web.app import make_app
from tests.said import any_said, of_box, of_job

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
STEPS = 45
taken: dict[str, int] = {"steps": 0, "done": 0, "refused": 0, "pages": 0}
SCREENS = (
    "", "/survey", "/breaker", "/wires", "/wires/sheet", "/interview", "/choose", "/count", "/hookup", "/hookup-found",
    "/hookup/sheet", "/hookup/live", "/install", "/find-fault", "/history",
)  # fmt: skip
START = (Path(__file__).parent / "house.json").read_bytes()
"""Two boxes with a bit of everything."""


ON_BOX = sorted(name for name, edit in EDITS.items() if issubclass(edit, BoxEdit))
ON_HOUSE = sorted(
    name for name, edit in EDITS.items() if not issubclass(edit, BoxEdit | AddSheet | ChangeSheet | BringIn)
)


class AnyActs(RuleBasedStateMachine):
    """A person who tries everything."""

    @initialize()
    def begin(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        app = make_app(Path(self.folder.name) / "kept.sqlite3")
        self.store: Store = app.state.store
        self.client = TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000))
        self.store.add_job(read_job(START), "house")
        self.touched = ("house", "hall")

    @property
    def boxes(self) -> list[str]:
        return [card.key for card in self.store.house("house").cards]

    @property
    def trials(self) -> list[tuple[str, str]]:
        """The key of each trial that is open, and of the box it was begun at."""
        return [(key, box) for box in self.boxes if (key := self.store.box("house", box).open_trial)]

    def any_place(self, data: st.DataObject) -> tuple[str, str]:
        """A job, or a trial of it, and one of its boxes."""
        job = data.draw(st.sampled_from(["house", "house", *(key for key, _ in self.trials)]))
        boxes = [card.key for card in self.store.house(job).cards] or ["gone"]
        self.touched = job, data.draw(st.sampled_from(boxes))
        return self.touched

    def post(self, path: str, said: dict[str, str]) -> None:
        answer = self.client.post(path, data={name: _sendable(value) for name, value in said.items()})
        assert answer.status_code in (200, 404, 409, 422), (path, said, answer.status_code, answer.text[:400])
        assert "content-security-policy" in answer.headers
        self.last = answer.status_code
        taken["steps"] += 1
        taken["done" if answer.status_code == 200 else "refused"] += 1

    def get(self, path: str) -> str:
        answer = self.client.get(path)
        assert answer.status_code == 200, (path, answer.status_code, answer.text[-600:])
        taken["pages"] += 1
        return answer.text

    def revision(self, job: str, box: str) -> str:
        return str(self.store.box(job, box).number) if box != "gone" else "1"

    def any_box(self, data: st.DataObject) -> str:
        self.touched = "house", data.draw(st.sampled_from(self.boxes))
        return self.touched[1]

    @precondition(lambda self: self.boxes)
    @rule(data=st.data(), name=st.sampled_from(ON_BOX), screen=st.sampled_from(["", "/survey", "/wires"]))
    def act(self, data: st.DataObject, name: str, screen: str) -> None:
        job, box = self.any_place(data)
        if box == "gone":
            return
        said = data.draw(any_said(EDITS[name], of_box(self.store.box(job, box))))
        said |= {"revision": self.revision(job, box), "token": data.draw(st.sampled_from(["", "0a1b"]))}
        self.post(f"/jobs/{job}/boxes/{box}{screen}/edit/{name}", said)
        if said["token"] and self.last == 200:
            at = self.revision(job, box)
            self.post(f"/jobs/{job}/boxes/{box}{screen}/edit/{name}", said)  # a double click
            assert self.revision(job, box) == at

    @precondition(lambda self: self.boxes)
    @rule(data=st.data(), mend=st.sampled_from(["", "true"]), way=st.sampled_from(["undo", "undo", "redo"]))
    def step(self, data: st.DataObject, way: str, mend: str) -> None:
        job, box = self.any_place(data)
        self.post(f"/jobs/{job}/boxes/{box}/{way}", {"revision": self.revision(job, box), "mend": mend})

    @precondition(lambda self: self.boxes)
    @rule(data=st.data(), mend=st.sampled_from(["", "true"]))
    def take_back(self, data: st.DataObject, mend: str) -> None:
        job, box = self.any_place(data)
        if box == "gone":
            return
        at = data.draw(st.integers(1, self.store.box(job, box).number))
        self.get(f"/jobs/{job}/boxes/{box}/history?at={at}")
        said = {"revision": self.revision(job, box), "at": str(at), "mend": mend}
        self.post(f"/jobs/{job}/boxes/{box}/history", said)

    @precondition(lambda self: self.boxes)
    @rule(data=st.data())
    def mend(self, data: st.DataObject) -> None:
        box = self.any_box(data)
        self.post(f"/jobs/house/boxes/{box}/edit/mend", {"revision": self.revision("house", box)})
        assert self.store.box("house", box).check.fit is None

    @precondition(lambda self: self.boxes)
    @rule(data=st.data())
    def what_if(self, data: st.DataObject) -> None:
        self.post(f"/jobs/house/boxes/{self.any_box(data)}/what-if", {})

    @precondition(lambda self: self.boxes)
    @rule(data=st.data(), end=st.sampled_from(["keep", "keep", "away"]), mend=st.sampled_from(["", "true"]))
    def end_what_if(self, data: st.DataObject, end: str, mend: str) -> None:
        if trials := self.trials:
            trial, box = data.draw(st.sampled_from(trials))
            if box in {card.key for card in self.store.house(trial).cards}:
                said = {"revision": self.revision(trial, box), "end": end, "mend": mend}
                self.post(f"/jobs/{trial}/boxes/{box}/what-if/end", said)

    @rule(data=st.data(), name=st.sampled_from(ON_HOUSE), page=st.sampled_from(["", "/panel"]))
    def house_act(self, data: st.DataObject, name: str, page: str) -> None:
        job = data.draw(st.sampled_from(["house", "house", *(key for key, _ in self.trials)]))
        said = data.draw(any_said(EDITS[name], of_job(self.store.job(job))))
        self.post(f"/jobs/{job}{page}/edit/{name}", said)

    @rule(circuits=st.lists(st.sampled_from(["1", "2", "4", "31"]), max_size=2))
    def circuits_go(self, circuits: list[str]) -> None:
        """What leaves most behind."""
        for circuit in circuits:
            self.post("/jobs/house/panel/edit/remove-circuit", {"id": circuit})

    @rule(data=st.data(), way=st.sampled_from(["undo", "undo", "redo"]), mend=st.sampled_from(["", "true"]))
    def step_house(self, data: st.DataObject, way: str, mend: str) -> None:
        job = data.draw(st.sampled_from(["house", "house", *(key for key, _ in self.trials)]))
        self.post(f"/jobs/{job}/{way}", {"revision": str(self.store.job(job).number), "mend": mend})

    @precondition(lambda self: self.boxes)
    @rule(data=st.data(), what=st.sampled_from(["copy", "remove", "remove"]))
    def copy_or_remove(self, data: st.DataObject, what: str) -> None:
        self.post(f"/jobs/house/boxes/{self.any_box(data)}/{what}", {})

    @rule(data=st.data(), mend=st.sampled_from(["", "true"]))
    def bring_back(self, data: st.DataObject, mend: str) -> None:
        gone = [card.key for card in self.store.outline("house", BoxFilter(), lambda _: ()).removed]
        if gone:
            self.post(f"/jobs/house/boxes/{data.draw(st.sampled_from(gone))}/bring-back", {"mend": mend})

    @rule(data=st.data(), line=st.sampled_from(["", "2g 34in3; 14/2 x2; switch", "; dimmer 9W led", "½", "zz"]))
    def start(self, data: st.DataObject, line: str) -> None:
        here = of_job(self.store.job("house"))
        said = {"name": data.draw(st.sampled_from(here["name"])), "room": "Attic by the old stair-head"}
        said |= {"circuit": data.draw(st.sampled_from(here["circuit"])), "volume": "34", "line": line}
        self.post("/jobs/house/boxes", said)

    @precondition(lambda self: self.boxes)
    @rule(
        data=st.data(), line=st.sampled_from(["1g 18in3; 14/2 x2; switch", "2g; 12/2; dimmer 2x9W led, switch", "@@"])
    )
    def enter_line(self, data: st.DataObject, line: str) -> None:
        box = self.any_box(data)
        self.post(f"/jobs/house/boxes/{box}/line", {"line": line, "revision": self.revision("house", box)})

    @rule(
        data=st.data(),
        gangs=st.sampled_from("122"),
        channels=st.sampled_from("0122"),
        kind=st.sampled_from(["", "module"]),
    )
    def change_sheet(self, data: st.DataObject, gangs: str, channels: str, kind: str) -> None:
        """The sheet's form, sent until the effects it names are said yes to."""
        id = data.draw(st.sampled_from(sorted(self.store.job("house").sheets)))
        kept = self.store.sheet("house", id)
        said = write_sheet(kept.sheet) | {"gangs": gangs, "channels": channels, "revision": str(kept.number)}
        said |= {"kind": kind} if kind else {}
        answer = self.client.post(f"/jobs/house/sheets/{quote(id)}", data=said)
        assert answer.status_code in (200, 409, 422), answer.text[-400:]
        if sure := re.search(r'name="sure" value="([^"]+)"', answer.text):
            self.post(f"/jobs/house/sheets/{quote(id)}", said | {"sure": sure[1]})

    @rule(data=st.data(), way=st.sampled_from(["undo", "undo", "redo"]), mend=st.sampled_from(["", "true"]))
    def step_sheet(self, data: st.DataObject, way: str, mend: str) -> None:
        id = data.draw(st.sampled_from(sorted(self.store.job("house").sheets)))
        said = {"revision": str(self.store.sheet("house", id).number), "mend": mend}
        self.post(f"/jobs/house/sheets/{quote(id)}/{way}", said)

    @precondition(lambda self: self.boxes)
    @rule(data=st.data(), stage=st.sampled_from(["found", "built", "wished"]), said=st.booleans())
    def say_contents(self, data: st.DataObject, stage: str, said: bool) -> None:
        job, box = self.any_place(data)
        at = {"at": str(data.draw(st.integers(1, self.store.box(job, box).number)))} if said and box != "gone" else {}
        self.post(
            f"/jobs/{job}/boxes/{box}/history/contents", {"stage": stage, "revision": self.revision(job, box), **at}
        )

    @rule(data=st.data(), to=st.sampled_from(["", "circuit", "box", "box", "onward", "words"]))
    def say_where_a_cable_goes(self, data: st.DataObject, to: str) -> None:
        job, box = self.any_place(data)
        if box == "gone" or not (cables := self.store.box(job, box).box.cables):
            return
        cable = data.draw(st.sampled_from([cable.id for cable in cables]))
        here = [card.key for card in self.store.house(job).cards]
        said = {"to": to, "words": "to the lamp", "length": data.draw(st.sampled_from(["", "25", "0"]))}
        said |= {"circuit": data.draw(st.sampled_from(["", "1", "99"])), "far_box": data.draw(st.sampled_from(here))}
        said |= {"far_cable": data.draw(st.sampled_from(["", "A", "B"])), "revision": self.revision(job, box)}
        self.post(f"/jobs/{job}/boxes/{box}/goes/{cable}", said)
        self.get(f"/jobs/{job}/boxes/{box}/goes/{cable}")

    @invariant()
    def the_touched_pages_answer(self) -> None:
        job, box = self.touched
        if job == "house" or job in {key for key, _ in self.trials}:
            if box in {card.key for card in self.store.house(job).cards}:
                self.get(f"/jobs/{job}/boxes/{box}")
            self.get(f"/jobs/{job}")
        else:
            self.get("/jobs/house")

    def sheets_are_counted_as_they_are(self, job: str) -> None:
        """The columns that say which boxes use a sheet say what the boxes themselves say."""
        counted = Counter(
            sheet for box in self.store.whole_job(job).boxes for sheet in {item.sheet for item in box.equipment}
        )
        assert self.store.uses(job) == counted

    def teardown(self) -> None:
        try:
            for box in self.boxes:
                for screen in SCREENS:
                    self.get(f"/jobs/house/boxes/{box}{screen}")
            for trial, _ in self.trials:
                for page in ("", "/panel", "/sheets", "/next-visit", "/export"):
                    self.get(f"/jobs/{trial}{page}")
                self.sheets_are_counted_as_they_are(trial)
                for card in self.store.house(trial).cards:
                    self.get(f"/jobs/{trial}/boxes/{card.key}")
            self.sheets_are_counted_as_they_are("house")
            for page in (
                "",
                "/panel",
                "/sheets",
                "/papers/labels",
                "/relamping",
                "/next-visit",
                "/parts",
                "/day",
                "/progress",
            ):
                self.get(f"/jobs/house{page}")
            for sheet in self.store.job("house").sheets:
                self.get(f"/jobs/house/sheets/{quote(sheet)}")
            self.get("/")
            self.get("/api/v1/jobs/house/check")
            taken_out = self.client.get("/jobs/house/export")
            assert taken_out.status_code == 200
            again = self.client.post("/import", files={"file": ("x.json", taken_out.content)}, follow_redirects=False)
            assert again.status_code == 303, again.text[-400:]
            assert self.client.get(f"{again.headers['location']}/export").content == taken_out.content
            assert write_job(read_job(taken_out.content)).encode() == taken_out.content
            archive = self.client.get("/jobs/house/take-out/archive").content
            put = self.client.post("/api/v1/archives", content=archive)
            assert put.status_code == 201, put.text[-400:]
            assert self.client.get(f"{put.headers['location']}/archive").content == archive
        finally:
            self.store.close()
            self.folder.cleanup()


def _sendable(text: str) -> str:
    return text.encode("utf-8", "replace").decode()


TestAnyActs = AnyActs.TestCase
TestAnyActs.settings = settings(
    max_examples=4 * LONGER, stateful_step_count=STEPS, deadline=None, suppress_health_check=list(HealthCheck)
)


@pytest.fixture(scope="module", autouse=True)
def what_was_tried() -> Iterator[None]:
    """Prints, with -s, how much was tried; nothing done at all is no test."""
    yield
    print(f"\n{taken}")
    assert taken["done"] and taken["refused"]
