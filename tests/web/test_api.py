"""The interface for programs, from outside: a generated client, a fuzzer of its description, tokens on every route."""

from __future__ import annotations

import importlib
import re
import subprocess
import sys
from collections.abc import Iterator
from datetime import timedelta
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image
from schemathesis.specs.openapi.checks import ignored_auth, positive_data_acceptance
from sqlalchemy import create_engine, text
from starlette.testclient import TestClient

from nail_count.demo.house import put_demo
from nail_count.files.job_json import write_job
from nail_count.store.revisions import now
from nail_count.store.store import Store
from nail_count.trade.edits.base import BoxEdit
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.errors import Rejected
from nail_count.web.app import make_app
from tests.said import any_said, of_box
from tests.support import on_disk
from tests.test_whole import LONGER
from tests.trade.wiring.hookup.schemes import PROVEN

HERE, ELSEWHERE = ("127.0.0.1", 50000), ("192.0.2.9", 50000)
HOUSE = "/api/v1/jobs/schoolhouse"
BOX = f"{HOUSE}/boxes/kitchen-bench"
CABLE = {"edits": [{"edit": "add-cable", "gauge": "14", "insulated": 2}]}


@pytest.fixture
def client(demo: Path, tmp_path: Path) -> Iterator[TestClient]:
    (tmp_path / "kept.sqlite3").write_bytes(demo.read_bytes())
    with TestClient(make_app(tmp_path / "kept.sqlite3"), base_url="http://localhost", client=HERE) as made:
        yield made


def store_of(client: TestClient) -> Store:
    return client.app.state.store  # type: ignore[attr-defined, no-any-return]


def routes(client: TestClient) -> Iterator[tuple[str, str]]:
    for path, methods in client.get("/openapi.json").json()["paths"].items():
        for method in methods:
            if path.startswith("/api/"):
                yield method.upper(), re.sub(r"{(\w+)}", "x1", path)


def is_problem(answer: Any, status: int, kind: str) -> dict[str, Any]:
    """Problem details, as RFC 9457 has them."""
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    said: dict[str, Any] = answer.json()
    assert said["status"] == status and said["type"] == f"urn:nail-count:problem:{kind}" and said["title"]
    assert said["detail"][0].isupper() and said["detail"].endswith(".")
    return said


def test_every_route_refuses_every_token_that_is_not_good(client: TestClient, tmp_path: Path) -> None:
    """None from elsewhere; forged, withdrawn and expired ones, here as well; a good one is let in."""
    tokens = store_of(client).tokens
    good, withdrawn, expired = (tokens.make(name, 30) for name in ("van", "old van", "older van"))
    tokens.withdraw(next(one.id for one in tokens.all() if one.name == "old van"))
    engine = create_engine(f"sqlite:///{tmp_path / 'kept.sqlite3'}")
    with engine.begin() as on:
        long_ago = {"at": now() - timedelta(seconds=1)}
        on.execute(text("update token set expires_at = :at where name = 'older van'"), long_ago)
    far = TestClient(client.app, base_url="http://localhost", client=ELSEWHERE)
    bad = [f"Bearer {one}" for one in (withdrawn, expired, good[:-1], f"{good}x", "", "\t")]
    bad += [f"Basic {good}", good, "Bearer", "Bearer a b"]
    every = list(routes(client))
    assert len(every) > 40
    for method, path in every:
        is_problem(far.request(method, path), 401, "no-token")
        for header in bad:
            for asker in (far, client):
                answer = asker.request(method, path, headers={"authorization": header})
                is_problem(answer, 401, "no-token")
                assert answer.headers["www-authenticate"] == "Bearer"
        let_in = far.request(method, path, headers={"authorization": f"Bearer {good}"})
        assert let_in.status_code not in (401, 403, 500), (method, path, let_in.text)
    assert withdrawn not in on_disk(tmp_path / "kept.sqlite3").decode("latin-1")


def test_tokens_are_made_here_only_shown_once_and_withdrawn_anywhere(client: TestClient) -> None:
    page = client.post("/tokens", data={"name": "van list", "days": "30"}).text
    token = re.search(r'value="(nailcount_[\w-]{43})"', page)
    assert token and token[1] not in client.get("/tokens").text and "van list" in client.get("/tokens").text
    far = TestClient(client.app, base_url="http://localhost", client=ELSEWHERE)
    bearer = {"authorization": f"Bearer {token[1]}"}
    assert far.get(HOUSE, headers=bearer).status_code == 200
    assert far.post("/tokens", data={"name": "thief"}).status_code == 422 and len(store_of(client).tokens.all()) == 1
    for said in ({"name": ""}, {"name": "x", "days": "0"}, {"name": "x", "days": "soon"}):
        again = client.post("/tokens", data=said)
        assert again.status_code == 422 and 'role="alert"' in again.text
    far.post(f"/tokens/{store_of(client).tokens.all()[0].id}/withdraw")
    is_problem(far.get(HOUSE, headers=bearer), 401, "no-token")


def test_an_act_is_done_once_and_only_on_what_was_seen(client: TestClient) -> None:
    seen = client.get(BOX)
    tag, cables = seen.headers["etag"], len(seen.json()["cables"])
    assert client.get(BOX, headers={"if-none-match": f'"0", {tag}'}).status_code == 304
    headers = {"if-match": tag, "idempotency-key": "cable for the island"}
    first = client.post(f"{BOX}/edits", json=CABLE, headers=headers)
    assert first.status_code == 200 and first.headers["etag"] != tag
    again = client.post(f"{BOX}/edits", json=CABLE, headers=headers)
    assert again.json() == first.json() and len(client.get(BOX).json()["cables"]) == cables + 1
    other = {"edits": [{"edit": "add-cable", "gauge": "12", "insulated": 2}]}
    is_problem(
        client.post(f"{BOX}/edits", json=other, headers={"idempotency-key": "cable for the island"}), 422, "not-done"
    )
    is_problem(client.post(f"{BOX}/edits", json=CABLE, headers={"if-match": tag}), 412, "changed-since")
    is_problem(
        client.post(f"{BOX}/edits", json=CABLE, headers={"if-match": f"W/{first.headers['etag']}"}),
        412,
        "changed-since",
    )
    stale = {**CABLE, "seen": [{"kind": "head", "key": "head", "revision": 99}]}
    is_problem(client.post(f"{BOX}/edits", json=stale), 412, "changed-since")
    is_problem(client.post(f"{BOX}/undo"), 428, "say-what-you-saw")
    undone = client.post(f"{BOX}/undo", headers={"if-match": first.headers["etag"]}).json()
    assert undone["undoes"] == first.json()["number"] and client.get(BOX).json() == seen.json()
    history = client.get(f"{HOUSE}/changes?limit=2").json()
    assert [one["number"] for one in history["items"]] == [undone["number"], first.json()["number"]]
    older = client.get(history["next"]).json()
    assert older["next"] is None and older["items"][-1]["sentence"].endswith("started")


def test_a_job_is_begun_once_under_a_key(client: TestClient) -> None:
    job = {"format": "nail-count job", "version": 3, "name": "By a program"}
    headers = {"idempotency-key": "first house"}
    made = [client.post("/api/v1/jobs", json=job, headers=headers) for _ in range(2)]
    assert [one.status_code for one in made] == [201, 201] and made[0].json() == made[1].json()
    assert client.get(made[0].headers["location"]).json()["head"]["name"] == "By a program"
    is_problem(client.post("/api/v1/jobs", json={**job, "name": "Another"}, headers=headers), 422, "not-done")
    assert len(client.get("/api/v1/jobs").json()["items"]) == 2
    client.delete(made[0].headers["location"])
    assert [one["put_away"] for one in client.get("/api/v1/jobs").json()["items"]] == [True, False]
    client.post(f"{made[0].headers['location']}/take-up")
    assert not any(one["put_away"] for one in client.get("/api/v1/jobs").json()["items"])


def test_what_is_wrong_is_said_with_its_place_and_nothing_is_done(client: TestClient) -> None:
    before = client.get(f"{HOUSE}/file").content
    two = {"edits": [*CABLE["edits"], {"edit": "add-cable", "gauge": "13", "insulated": 2}]}
    said = is_problem(client.post(f"{BOX}/edits", json=two), 422, "not-done")
    assert [one["pointer"] for one in said["errors"]] == ["/edits/1/gauge"]
    for wrong, pointer in (
        ({"edits": []}, "/edits"),
        ({"edits": [{"edit": "add-cabel"}]}, "/edits/0/edit"),
        ({"edits": [{"edit": "add-cable", "box": "porch"}]}, "/edits/0/box"),
        ({"edits": [{"edit": "set-hub", "hub": ""}]}, "/edits/0/box"),
        ({"edits": CABLE["edits"], "sentense": "x"}, "/sentense"),
    ):
        said = is_problem(client.post(f"{BOX}/edits", json=wrong), 422, "not-done")
        assert said["errors"][0]["pointer"] == pointer, said
    is_problem(
        client.post(f"{BOX}/edits", content=b'{"edits":', headers={"content-type": "application/json"}),
        400,
        "not-understood",
    )
    is_problem(client.get(f"{HOUSE}/boxes?limit=0"), 422, "not-done")
    is_problem(client.get(f"{HOUSE}/boxes/nowhere"), 404, "not-here")
    for path in (f"{HOUSE}/changes", f"{BOX}/revisions"):
        is_problem(client.get(f"{path}/{'9' * 22}"), 422, "not-done")
    is_problem(client.delete(f"{HOUSE}/check"), 405, "not-that-way")
    is_problem(client.post("/api/v1/photos", content=b"GIF89a"), 422, "not-done")
    assert client.get(f"{HOUSE}/file").content == before


def test_lists_come_whole_piece_by_piece(client: TestClient) -> None:
    for path in ("boxes", "sheets", "runs", "ticks", "boxes?room=Entry", "ticks?box=washroom"):
        join = "&" if "?" in path else "?"
        whole = client.get(f"{HOUSE}/{path}{join}limit=200").json()
        pieces, following = [], f"{HOUSE}/{path}{join}limit=3"
        while following:
            piece = client.get(following).json()
            pieces += piece["items"]
            following = piece["next"]
        assert pieces == whole["items"] and whole["next"] is None and len(pieces) > 3 - ("?" in path), path


def test_what_makes_a_box_hold_is_done_by_the_edits_told(client: TestClient) -> None:
    """Tried out as a what-if, kept; the cloakroom's count says so afterwards."""
    ways = client.get(f"{HOUSE}/boxes/cloakroom/ways").json()
    assert ways["state"] == "fails" and ways["ways"]
    trial = client.post(f"{HOUSE}/boxes/cloakroom/trials").json()["key"]
    done = client.post(f"/api/v1/jobs/{trial}/edits", json={"edits": ways["ways"][0]["edits"], "sentence": "Extended"})
    assert done.status_code == 200, done.text
    assert client.get(f"/api/v1/jobs/{trial}/boxes/cloakroom/check").json()["state"] == ways["ways"][0]["state"]
    assert client.get(f"{HOUSE}/boxes/cloakroom/check").json()["state"] == "fails"
    for _ in range(2):  # the answer may be lost on its way
        kept = client.post(f"/api/v1/jobs/{trial}/keep", headers={"idempotency-key": "extended"})
        assert kept.json() == {"key": "schoolhouse"}
    assert client.get(f"{HOUSE}/boxes/cloakroom/check").json()["state"] in ("holds", "tight")
    is_problem(client.post(f"/api/v1/jobs/{trial}/keep"), 404, "not-here")


def test_a_box_goes_back_to_any_state_it_was_in(client: TestClient) -> None:
    first = client.get(BOX)
    for _ in range(3):
        client.post(f"{BOX}/edits", json=CABLE)
    is_problem(client.post(f"{BOX}/take-back/1"), 428, "say-what-you-saw")
    is_problem(client.post(f"{BOX}/take-back/1", headers={"if-match": '"2"'}), 412, "changed-since")
    tag = client.get(BOX).headers["etag"]
    back = client.post(f"{BOX}/take-back/1", headers={"if-match": tag})
    assert back.json() == first.json() and back.headers["etag"] not in (tag, first.headers["etag"])
    assert len(client.get(f"{BOX}/revisions/3").json()["cables"]) == len(first.json()["cables"]) + 2
    is_problem(client.post(f"{BOX}/take-back/99", headers={"if-match": back.headers["etag"]}), 404, "not-here")


def test_what_a_changed_sheet_would_do_is_told_before_it_is_done(client: TestClient) -> None:
    """Its body made as deep as the box: what holds fails by bulk or depth, and nothing is kept."""
    at = f"{HOUSE}/sheets/{client.get(BOX).json()['planned']['devices'][0]['sheet']}"
    sheet = client.get(at).json()
    deeper = {**sheet, "body": {**sheet["body"], "projection": "90 mm"}}
    told = client.post(f"{at}/effects", json=deeper).json()
    assert told and any(one["answers"] for one in told)
    assert client.get(at).json() == sheet
    done = client.post(f"{at}/edits", json={"edits": [{"edit": "change-sheet", "sheet": deeper}]})
    assert done.status_code == 200
    for one in told:
        assert client.get(f"{HOUSE}/boxes/{one['box']}/check").json()["state"] == one["after"]


def test_all_that_fails_is_made_to_hold_by_the_edits_told(client: TestClient) -> None:
    failing = {one["key"] for one in client.get(f"{HOUSE}/boxes?state=fails").json()["items"]}
    found = client.get(f"{HOUSE}/ways?seconds=60").json()
    assert failing <= {one["box"] for one in found["boxes"]} and found["left"] == []
    edits = [edit for each in found["edits"].values() for edit in each]
    assert client.post(f"{HOUSE}/edits", json={"edits": edits, "sentence": "All made to hold"}).status_code == 200
    still = {one["key"] for one in client.get(f"{HOUSE}/boxes?state=fails").json()["items"]}
    assert not still & set(found["edits"])


def test_ticks_come_no_earlier_than_on_the_ladder(client: TestClient) -> None:
    def tick(**said: Any) -> Any:
        return client.post(f"{HOUSE}/ticks", json=said, headers={"idempotency-key": str(said)})

    joined = {"kind": "joined", "subjects": ["make", "s1"]}
    early = is_problem(tick(box="front-door", step=joined), 422, "not-done")
    assert "verify dead with the" in early["detail"].lower()
    is_problem(tick(box="front-door", step={"kind": "folded", "subjects": ["elsewhere"]}), 422, "not-done")
    is_problem(tick(step={"kind": "bought", "subjects": ["device", "none"], "count": 2}), 422, "not-done")
    named = {"kind": "named", "subjects": ["m1"]}
    assert tick(box="washroom", step=named).status_code == 201, "its hub knows it: it may be named anew"
    made = tick(box="front-door", step={"kind": "begun"}, by="M.")
    assert made.status_code == 201 and tick(box="front-door", step={"kind": "begun"}, by="M.").json() == made.json()
    dead = {"kind": "dead", "subjects": ["plate on"]}
    for other in ({"takes_back": made.json()["id"]}, {"box": "front-door", "step": dead, "because": "no meter here"}):
        under = {"idempotency-key": str({"box": "front-door", "step": {"kind": "begun"}, "by": "M."})}
        is_problem(client.post(f"{HOUSE}/ticks", json=other, headers=under), 422, "not-done")
        is_problem(client.post(f"{BOX}/edits", json=CABLE, headers=under), 422, "not-done")
    back = tick(takes_back=made.json()["id"])
    assert back.json()["takes_back"] == made.json()["id"]
    is_problem(tick(takes_back=back.json()["id"]), 422, "not-done")


def test_a_setup_code_is_put_and_deleted_and_never_told(client: TestClient) -> None:
    secret = "9482-SECRET-MADE-UP"
    at = f"{HOUSE}/boxes/washroom/codes/m1"
    assert client.put(at, json={"code": secret}).status_code == 204
    assert store_of(client).codes("schoolhouse", "washroom") == {"m1": secret}
    for _, path in routes(client):
        assert (
            secret
            not in client.get(path.replace("jobs/x1", "jobs/schoolhouse").replace("boxes/x1", "boxes/washroom")).text
        )
    assert secret.encode() not in client.get(f"{HOUSE}/archive").content
    assert client.delete(at).status_code == 204 and store_of(client).codes("schoolhouse", "washroom") == {}
    is_problem(client.put(at, json={"code": "a b"}), 422, "not-done")


@settings(max_examples=60 * LONGER, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_an_edit_in_json_does_what_the_edit_does(client: TestClient, data: st.DataObject) -> None:
    """Any edit of a box, said by a program: the same whole job as by the value itself, or refused as it is."""
    store = store_of(client)
    name = data.draw(st.sampled_from(sorted(name for name, edit in EDITS.items() if issubclass(edit, BoxEdit))))
    box = data.draw(st.sampled_from([card.key for card in store.house("schoolhouse").cards]))
    said = data.draw(any_said(EDITS[name], of_box(store.box("schoolhouse", box))))
    said = {key: value.encode("utf-8", "replace").decode() for key, value in said.items() if key != "box"}
    trials = [store.try_out("schoolhouse", box)]
    before = store.whole_job(trials[0])
    try:
        store.act(trials[0], EDITS[name].read({**said, "box": box}))
        expected: str | None = write_job(store.whole_job(trials[0]))
    except Rejected:
        expected = None
    store.end_trial(trials[0], {}, accept=False)
    trial = store.try_out("schoolhouse", box)
    answer = client.post(f"/api/v1/jobs/{trial}/boxes/{box}/edits", json={"edits": [{"edit": name, **said}]})
    after = store.whole_job(trial)
    store.end_trial(trial, {}, accept=False)
    if expected is None:
        assert answer.status_code == 422 and after == before, answer.text
    else:
        assert answer.status_code == 200, answer.text
        assert but_for_time(write_job(after)) == but_for_time(expected)


def but_for_time(job: str) -> str:
    """A job without times of day, and without the numbers of runs: one thrown away keeps its own."""
    return re.sub(r"-\d+\"", '"', re.sub(r"T\d\d:\d\d:\d\d", "", job))


CONFIG = """
content_type_overrides:
  application/zip: application/octet-stream
  application/vnd.openxmlformats-officedocument.spreadsheetml.sheet: application/octet-stream
  application/pdf: application/octet-stream
  image/svg+xml: application/octet-stream
  image/png: application/octet-stream
  image/jpeg: application/octet-stream
  image/webp: application/octet-stream
  text/plain: application/octet-stream
post_hooks: []
"""
"""What its generator must be told: to leave files as they are."""


def test_a_generated_client_works(client: TestClient, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Made from the description by another program, without a warning: it starts a job, counts, edits, is refused."""
    (tmp_path / "openapi.json").write_text(client.get("/openapi.json").text)
    (tmp_path / "config.yml").write_text(CONFIG)
    command = [str(Path(sys.executable).parent / "openapi-python-client"), "generate", "--path", "openapi.json"]
    options = ["--output-path", "bench_client", "--meta", "none", "--config", "config.yml", "--fail-on-warning"]
    made = subprocess.run([*command, *options], cwd=tmp_path, capture_output=True, text=True, check=False)
    assert made.returncode == 0, made.stdout + made.stderr
    monkeypatch.syspath_prepend(str(tmp_path))

    def part(name: str) -> Any:
        return importlib.import_module(f"bench_client.{name}")

    program = part("client").Client(base_url="http://localhost")
    program.set_httpx_client(client)
    models = part("models")
    key = (
        part("api.jobs.start_job")
        .sync(
            client=program,
            body=models.Job.from_dict({"format": "nail-count job", "version": 3, "name": "By a program"}),
        )
        .key
    )
    asked = models.ChangeAsked.from_dict(
        {"edits": [{"edit": "start-box", "name": "Bench", "room": "Kitchen", "gangs": 2, "volume": "34"}]}
    )
    change = part("api.acts.edit_job").sync(key, client=program, body=asked)
    box = next(one.key for one in change.documents if one.kind == "box")
    cable = models.ChangeAsked(edits=[models.AddCable(edit="add-cable", box=box, gauge="14", insulated=2)])
    part("api.acts.edit_box").sync(key, box, client=program, body=cable)
    count = part("api.answers.check_box").sync(key, box, client=program)
    volume = next(one for one in count["answers"] if one["about"] == "fill")
    assert volume["limit"] == 34 and volume["total"] == 2 * 2 + 2, "two conductors and all grounds, 2 in³ each"
    refused = part("api.acts.edit_box").sync(key, box, client=program, body=cable, if_match='"1"')
    assert isinstance(refused, models.ProblemDetails) and refused.status == 412
    listed = part("api.documents.list_boxes").sync(key, client=program)
    assert [one.name for one in listed.items] == ["Bench"]
    assert part("api.documents.show_box").sync(key, box, client=program).cables[0].insulated == 2


def _zips() -> st.SearchStrategy[bytes]:
    return st.binary(max_size=60) | st.just(b"PK\x03\x04 and no more")


for kind in ("application/zip", "image/jpeg", "image/png", "image/webp"):
    schemathesis.openapi.media_type(kind, _zips())


def test_the_routes_for_programs_hold_to_their_description(tmp_path: Path) -> None:
    """Schemathesis makes calls from the OpenAPI description: no server error, and nothing it does not describe."""
    app = make_app(tmp_path / "kept.sqlite3", ("localhost", "testserver"))
    put_demo(app.state.store)
    bearer = {"authorization": f"Bearer {app.state.store.tokens.make('fuzzer')}"}

    async def far(scope: Any, receive: Any, send: Any) -> None:
        await app({**scope, "client": ELSEWHERE} if scope["type"] == "http" else scope, receive, send)

    schema = schemathesis.openapi.from_asgi("/openapi.json", far)
    calls = 0
    for result in schema.get_all_operations():
        operation = result.ok()  # type: ignore[union-attr]

        @settings(max_examples=6 * LONGER, deadline=None, suppress_health_check=list(HealthCheck), database=None)
        @given(case=operation.as_strategy(), here=st.booleans())
        def call(case: Any, here: bool) -> None:
            nonlocal calls
            calls += 1
            if here:  # else it asks for things that are nowhere
                known = {"job": "schoolhouse", "box": "kitchen-bench", "sheet": "marrowby-toggle"}
                case.path_parameters |= {name: key for name, key in known.items() if name in case.path_parameters}
            # A schema cannot say all that an edit or a job file must be, so a valid one may be refused. Its check of
            # tokens takes one that is given for one it made up; they have a test of their own.
            case.call_and_validate(headers=bearer, excluded_checks=[positive_data_acceptance, ignored_auth])

        call()
    assert calls > 200


def test_a_picture_comes_in_and_goes_out(client: TestClient) -> None:
    file = BytesIO()
    Image.new("RGB", (2000, 500), "red").save(file, "PNG")
    key = client.post("/api/v1/photos", content=file.getvalue()).json()["key"]
    shown = client.get(f"/api/v1/photos/{key}")
    assert Image.open(BytesIO(shown.content)).size == (1600, 400)
    named = {"edits": [{"edit": "add-photo", "photo": key, "caption": "behind the plate"}]}
    assert client.post(f"{BOX}/edits", json=named).status_code == 200
    assert client.get(BOX).json()["survey"]["photos"][0]["id"] == key


def test_a_job_from_nothing_begins_with_devices_and_a_box_in_one_line(client: TestClient) -> None:
    job = {"format": "nail-count job", "version": 3, "name": "New"}
    key = client.post("/api/v1/jobs", json=job).json()["key"]
    made = client.get(f"/api/v1/jobs/{key}")
    line = '1g 20in3; 14/2 x2; dimmer "Hall" 4x9W led'
    edit = {"edits": [{"edit": "start-by-line", "name": "Hall", "room": "Hall", "line": line}]}
    answer = client.post(f"/api/v1/jobs/{key}/edits", json=edit, headers={"if-match": made.headers["etag"]})
    assert answer.status_code == 200, answer.text
    own = client.post("/api/v1/jobs", json=job | {"sheets": [sheet_of(client)]}).json()["key"]
    assert len(store_of(client).job(own).sheets) == 1, "what a file brings is all there is"


def sheet_of(client: TestClient) -> dict[str, Any]:
    return store_of(client).job("schoolhouse").sheets["marrowby-toggle"].model_dump(mode="json", exclude_none=True)


def test_what_a_device_works_over_the_network_is_asked_on_its_hook_up_page(client: TestClient) -> None:
    pair = PROVEN["a radio pair behind a plain pair"]
    radio = pair.changed(sheets=tuple(one.changed(radio="2.4 GHz network") for one in pair.sheets))
    key = client.post("/api/v1/jobs", content=write_job(radio)).json()["key"]
    page = client.get(f"/jobs/{key}/boxes/b/hookup").text
    assert "Over the network" in page and 'value="a/m1" selected' in page
    assert "works by hand only from a switch on its own input" in page
    made = client.get(f"/api/v1/jobs/{key}/boxes/b")
    edit = {"edits": [{"edit": "work-over", "item": "m1", "commands": ""}]}
    answer = client.post(f"/api/v1/jobs/{key}/boxes/b/edits", json=edit, headers={"if-match": made.headers["etag"]})
    assert answer.status_code == 200, answer.text
    assert 'value="" selected' in client.get(f"/jobs/{key}/boxes/b/hookup").text
