"""Editions are data: one that is added stands with all that the one before it says."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.trade.model.edition import EDITIONS, NEC_2023, first_with
from nail_count.trade.model.job import Job, Terms
from nail_count.trade.rules.check import check_box, check_job
from nail_count.web.app import make_app
from tests.support import SHEETS, flat

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


@pytest.fixture
def nec_2026(monkeypatch: pytest.MonkeyPatch) -> str:
    """An edition that says nothing otherwise."""
    edition = NEC_2023.followed_by("nec-2026", "NEC 2026", 2026)
    monkeypatch.setitem(EDITIONS, edition.id, edition)
    return edition.id


def found(job: Job) -> list[tuple[str, str, str, list[str]]]:
    """Whose answer, how it stands, and what was found."""
    checked = check_job(job)
    answers = [answer for box in checked.boxes for answer in box.answers] + list(checked.circuits)
    return [(a.about, str(a.subject), a.state.word, [remark.code for remark in a.remarks]) for a in answers]


def test_every_finding_of_the_newest_edition_stands_in_one_that_is_added(nec_2026: str) -> None:
    later = HOUSE.changed(terms=HOUSE.terms.changed(code=nec_2026))
    assert HOUSE.terms.code == "nec-2023" and found(later) == found(HOUSE)
    rules = {line.rule.source for box in check_job(later).boxes for line in box.fill.lines}
    assert rules == {"NEC 2026", "Common practice"}, "expected no article of an older edition"


def test_a_required_light_on_a_battery_control_fails_from_2023_on(nec_2026: str) -> None:
    """210.70(A)(2), NEC 2023, from memory."""
    load = {"id": "l1", "kind": "led", "each": "9 W", "lights": "required light"}
    module = {"id": "m1", "sheet": "relay", "control": "battery only", "loads": [load]}
    box = flat({"id": "b", "name": "B", "room": "R", "modules": [module]})
    relay = SHEETS["switch"].changed(id="relay", kind="module")
    states = {}
    for code in ("nec-2017", "nec-2020", "nec-2023", nec_2026):
        answer = check_box(box, {"relay": relay}, Terms(code=code)).prohibitions
        assert answer is not None
        (states[code],) = [(r.state.word, r.rule.name) for r in answer.remarks if r.code == "battery-control"]
    assert states["nec-2017"][0] == states["nec-2020"][0] == "holds"
    assert states["nec-2023"] == ("fails", "NEC 2023 210.70(A)(2)")
    assert states[nec_2026] == ("fails", "NEC 2026 210.70(A)(2)")


def test_a_job_of_an_older_edition_cites_its_own(nec_2026: str) -> None:
    """What only a newer edition asks for is named by the first edition that has it."""
    assert first_with(lambda edition: edition.battery_control).name == "NEC 2023"
    assert first_with(lambda edition: edition.stair_dimming).name == "NEC 2020"
    earlier = HOUSE.changed(terms=HOUSE.terms.changed(code="nec-2017"))
    cited = {line.rule.source for box in check_job(earlier).boxes for answer in box.answers for line in answer.lines}
    said = {remark.rule.source for box in check_job(earlier).boxes for one in box.answers for remark in one.remarks}
    assert "NEC 2026" not in cited | said and "NEC 2023" not in cited


def test_it_can_be_chosen_at_once(nec_2026: str, tmp_path: Path) -> None:
    app = make_app(tmp_path / "kept.sqlite3")
    app.state.store.add_job(HOUSE, "house")
    client = TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000))
    assert "nec-2026" in client.get("/jobs/house").text
    said = {"name": "House", "code": nec_2026, "voltage": "120"}
    assert client.post("/jobs/house/edit/set-house", data=said).status_code == 200
    assert app.state.store.job("house").head.terms.code == nec_2026
    assert "NEC 2026" in client.get("/jobs/house/boxes/porch/count").text and "NEC 2026" in client.get("/rules").text
    refused = client.post("/jobs/house/edit/set-house", data=said | {"code": "nec-1911"})
    assert refused.status_code == 422 and "Pick one of the editions" in refused.text
