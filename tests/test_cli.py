"""The command as a person runs it: what it prints, where, and its exit status."""

from __future__ import annotations

import json
import socket
import subprocess
import sys
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path

import pytest
from click.testing import CliRunner

from nail_count.cli import main

DEMO = Path(str(files("nail_count.demo")))


@dataclass(frozen=True, slots=True)
class Ran:
    returncode: int
    stdout: bytes
    stderr: bytes


def run(*arguments: str, given: bytes | None = None) -> Ran:
    """The command within this program; what only a program of its own can show starts one."""
    done = CliRunner().invoke(main, list(arguments), input=given)
    assert done.exception is None or isinstance(done.exception, SystemExit), done.exception
    return Ran(done.exit_code, done.stdout_bytes, done.stderr_bytes)


def only(tmp_path: Path, *boxes: str) -> str:
    """The demo house with these boxes alone."""
    job = json.loads((DEMO / "schoolhouse.json").read_bytes())
    job["boxes"] = [box for box in job["boxes"] if box["id"] in boxes]
    job["runs"] = [run for run in job["runs"] if run["one"]["box"] in boxes]
    file = tmp_path / "job.json"
    file.write_text(json.dumps(job))
    return str(file)


@pytest.mark.parametrize(
    ("boxes", "status"),
    [
        (("stair-head", "pantry"), 0),
        (("front-door", "cloakroom", "study"), 1),
        (("front-door", "study", "loft"), 3),
        ((), 0),
    ],
)
def test_exit_status(tmp_path: Path, boxes: tuple[str, ...], status: int) -> None:
    assert run("check", only(tmp_path, *boxes)).returncode == status


def test_explain_says_why_each_line_counts_so(tmp_path: Path) -> None:
    said = run("check", "--explain", only(tmp_path, "cloakroom")).stdout.decode()
    assert "one or more clamps count as one of the largest conductor in the box (figure from memory" in said
    assert "its real body, width × height × how far it reaches back (common practice)" in said
    plain = run("check", only(tmp_path, "cloakroom")).stdout.decode()
    assert "figure from memory" not in plain and "Bulk, an estimate" in plain


def test_check_prints_the_count_its_rules_and_the_caution_last(tmp_path: Path) -> None:
    said = run("check", only(tmp_path, "cloakroom")).stdout.decode()
    assert "over by 2.25 in³: one 12 AWG conductor too many" in said
    assert "7 × 2.25 = 15.75 in³   NEC 2023 314.16(B)(1)" in said
    assert said.rstrip().endswith("A count is not a permit.")


def test_json_holds_the_same_answers(tmp_path: Path) -> None:
    data = json.loads(run("check", "--json", only(tmp_path, "cloakroom")).stdout)
    fill = data["boxes"][0]["answers"][0]
    assert (fill["total"], fill["limit"], fill["margin"], fill["state"]) == (24.75, 22.5, -2.25, "fails")
    assert sum(line["value"] for line in fill["lines"]) == fill["total"]
    circuit = next(one for one in data["circuits"] if one["subject"] == "9")
    assert (circuit["unit"], circuit["limit"]) == ("VA", 2400) and circuit["total"] == sum(
        line["value"] for line in circuit["lines"]
    )
    assert fill["lines"][0]["parts"] == [{"id": "A", "count": 2}, {"id": "B", "count": 2}, {"id": "C", "count": 3}]


def one_box(tmp_path: Path, sheet: Mapping[str, object], load: Mapping[str, object], **job: object) -> str:
    """A job of one box, with one device and one load."""
    device = {"id": "d1", "gang": 1, "sheet": "one", "loads": [{"id": "l1", **load}]}
    made = {"enclosure": {"gangs": 1, "volume": "20 in3"}, "devices": [device]}
    box = {"id": "a", "name": "A", "room": "R", "circuit": "1", "planned": made}
    sheets = [{"id": "one", "name": "One", **sheet}]
    file = tmp_path / "one.json"
    file.write_text(
        json.dumps({"format": "nail-count job", "version": 3, "name": "J", "sheets": sheets, "boxes": [box]} | job)
    )
    return str(file)


def test_an_answer_that_fails_has_nothing_to_spare(tmp_path: Path) -> None:
    """9 W on a dimmer that wants 40 W at least fails, however far it is below its 150 W."""
    dimmer = {"kind": "dimmer", "channels": [{"minimum": "40 W", "ratings": {"led": {"alone": "150 W"}}}]}
    file = one_box(tmp_path, dimmer, {"kind": "led", "each": "9 W"}, circuits=[{"id": "1"}])
    answers = json.loads(run("check", "--json", file).stdout)["boxes"][0]["answers"]
    (rating,) = (one for one in answers if one["about"] == "rating")
    assert (rating["state"], rating["margin"]) == ("fails", None)


def test_a_breaker_of_two_poles_at_126_volts_is_counted(tmp_path: Path) -> None:
    """252 V between its hots: 1008 W of heater draw 4 A."""
    switch = {"kind": "switch", "channels": [{"ratings": {"general": {"alone": "15 A"}}}]}
    poles = [{"id": "1", "space": 1, "poles": 2, "serves": "one load"}]
    file = one_box(tmp_path, switch, {"kind": "heater", "each": "1008 W"}, circuits=poles, terms={"voltage": 126})
    assert "4 of 15 A" in run("check", file).stdout.decode()


NOT_ONE = [lambda file: None, *(
    lambda file, content=content: file.write_bytes(content)
    for content in (b"", b"\x00\x01", b'{"format": "nail-count job", "version": 9}')
)]  # fmt: skip


@pytest.mark.parametrize("write", NOT_ONE, ids=["no file", "empty", "binary", "later version"])
def test_bad_input_is_a_sentence_and_status_2(tmp_path: Path, write: Callable[[Path], object]) -> None:
    file = tmp_path / "bad.json"
    write(file)
    done = run("check", str(file))
    said = done.stderr.decode()
    assert done.returncode == 2 and done.stdout == b""
    assert said.startswith(f"{file}: ") and said[len(str(file)) + 2 :].strip() and "Traceback" not in said


def test_a_folder_and_no_file_are_refused(tmp_path: Path) -> None:
    for arguments in (("check", str(tmp_path)), ("check",), ("measure",)):
        done = run(*arguments)
        assert done.returncode == 2 and b"Traceback" not in done.stderr


def test_what_cannot_be_printed_is_said(tmp_path: Path) -> None:
    """A full disk behind a redirection, and a reader that stops listening."""
    program = "from nail_count.cli import main; main()"
    with Path("/dev/full").open("wb") as full:
        command = [sys.executable, "-c", program, "check", str(DEMO / "schoolhouse.json")]
        done = subprocess.run(command, stdout=full, stderr=subprocess.PIPE, timeout=60, check=False)
    assert done.returncode == 2 and b"not all of it could be written: no space left" in done.stderr
    assert b"Traceback" not in done.stderr
    piped = f"{sys.executable} -c '{program}' check --explain {DEMO / 'schoolhouse.json'} | head -1"
    heard = subprocess.run(["bash", "-c", piped], capture_output=True, timeout=60, check=False)
    assert heard.stdout.startswith(b"The old schoolhouse") and heard.stderr == b""


def test_an_address_others_can_reach_is_warned_about_and_answers_to_its_names(tmp_path: Path) -> None:
    from urllib.request import Request, urlopen

    command = [sys.executable, "-c", "from nail_count.cli import main; main()", "serve", "--data", str(tmp_path)]
    server = subprocess.Popen([*command, "--host", "0.0.0.0", "--port", "0"], stdout=subprocess.PIPE, text=True)
    assert server.stdout is not None
    try:
        said = [server.stdout.readline() for _ in range(4)]
        assert f"Data folder: {tmp_path}" in said[1]
        assert "others can reach this address" in said[2] and "no password" in said[2]
        port = said[0].split("0.0.0.0:")[1].split("/")[0]
        for name in (f"localhost:{port}", f"127.0.0.1:{port}", f"{socket.gethostname()}:{port}", f"[::1]:{port}"):
            page = urlopen(Request(f"http://127.0.0.1:{port}/about", headers={"host": name}), timeout=20)
            assert page.status == 200, name
    finally:
        server.terminate()
        server.wait(20)
        server.stdout.close()


def test_a_taken_port_and_an_unusable_folder_are_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    done = run("serve", "--data", str(tmp_path / "file" / "data"), "--port", "0")
    assert done.returncode == 2 and b"Traceback" not in done.stderr
    assert b"file" in done.stderr


def test_examples_can_be_had_and_checked() -> None:
    for name, status in (("schoolhouse", 1), ("hallway", 0)):
        printed = run("example", name).stdout
        assert printed == (DEMO / f"{name}.json").read_bytes()
        assert run("check", "-", given=printed).returncode == status


def test_a_box_in_a_line() -> None:
    held = run("check", "--line", '3g 54in3 tabs; 12/2 x3, 12/3; dimmer "Bench" 6x9W led, fan 0.9A, switch')
    assert held.returncode == 0 and "38.25 of 54 in³" in held.stdout.decode()
    wrong = run("check", "--line", "1g 18in3; 14/2; toaster")
    assert wrong.returncode == 2
    assert wrong.stderr.decode().splitlines()[1].startswith(" " * 16 + "^" * 7 + " enter a device such as")


USUAL = '1g 18in3; 14/2 x2; smart dimmer "Hall" 4x9W led'


def test_a_plan_from_one_line() -> None:
    """Verdict, what it rests on, hook-up, parts and steps; as text and as data, and never as a plain pass."""
    text = run("plan", "--line", USUAL)
    said = text.stdout.decode()
    assert text.returncode == 3 and said.startswith("Holds, if all of these are so:")
    assert "A is the feed." in said and "neutral: A2 white, B2 white, Hall: neutral" in said
    assert "1 × Smart dimmer" in said and "Check how this box is wired" in said
    data = json.loads(run("plan", "--json", "--line", USUAL).stdout)
    assert data["state"] == data["hookup"]["state"] == "open"
    assert {one["code"] for one in data["rests_on"]} == {"whites-tied", "feed", "leg", "breaker", "colors"}
    assert {one["name"] for one in data["parts"]} >= {"Smart dimmer", "Wire connector, medium"}
    assert sum(one["missing"] for one in data["steps"]) == 1 and len(data["steps"]) > 20


@pytest.mark.parametrize(
    ("line", "status", "words"),
    [
        ("blah", 2, "enter gangs"), ("", 2, "Name the device"), ("1g 18in3; 14/2 x2", 2, "Name the device"),
        ('1g 18in3; 14/2; smart dimmer "Hall" 4x9W led', 1, "a cable with more wires"),
        ('1g 10in3; 14/2 x2; smart dimmer "Hall" 4x9W led', 1, "Fails"),
        ('14/2 x2; smart dimmer "Hall" 4x9W led', 3, "Volume of the box not known"),
    ],
)  # fmt: skip
def test_a_plan_that_cannot_be_followed_says_why(line: str, status: int, words: str) -> None:
    done = run("plan", "--line", line)
    assert done.returncode == status and words in (done.stdout + done.stderr).decode()


def test_version() -> None:
    assert run("--version").stdout.startswith(b"nail-count, version ")


def test_hookup_prints_plan_proof_readings_and_work(tmp_path: Path) -> None:
    """The same as text and as data; its exit status says how it stands."""
    demo = str(DEMO / "schoolhouse.json")
    done = run("hookup", demo, "front-door")
    assert done.returncode == 0
    for part in (
        "holds",
        "off first: 5",
        "hot: A1 black, Porch: line, Hall: line",
        "B1 black",
        "108 to 126 V",
        "1. make",
    ):
        assert part in done.stdout.decode()
    (data,) = json.loads(run("hookup", "--json", demo, "front-door").stdout)
    assert data["state"] == "holds" and data["breakers"] == ["5"] and data["findings"] == []
    assert {"leave", "make", "cap"} >= {step["act"] for step in data["work"]}
    job = json.loads((DEMO / "schoolhouse.json").read_bytes())
    joined = [one["id"] for one in job["boxes"] if any(s.get("ends") for s in one["planned"].get("splices", []))]
    assert [one["box"] for one in json.loads(run("hookup", "--json", demo).stdout)] == joined
    box = next(one for one in job["boxes"] if one["id"] == "front-door")
    live, neutral = (next(s for s in box["planned"]["splices"] if s["name"] == name) for name in ("hot", "neutral"))
    live["ends"] += neutral["ends"]
    box["planned"]["splices"].remove(neutral)
    broken = tmp_path / "broken.json"
    broken.write_text(json.dumps(job))
    failed = run("hookup", str(broken), "front-door")
    assert failed.returncode == 1 and "FAILS" in failed.stdout.decode()
    assert "hot meets neutral" in failed.stdout.decode()
    assert run("hookup", demo, "kitchen-bench").returncode == 3


def test_hookup_refuses_what_it_cannot_read(tmp_path: Path) -> None:
    nowhere = run("hookup", str(DEMO / "schoolhouse.json"), "nowhere")
    assert nowhere.returncode == 2 and "there is no nowhere" in nowhere.stderr.decode()
    bare = tmp_path / "bare.json"
    bare.write_text(json.dumps({"format": "nail-count job", "version": 3, "name": "Bare"}))
    nothing = run("hookup", str(bare))
    assert nothing.returncode == 2 and "Nothing is hooked up in this house yet" in nothing.stderr.decode()
    assert run("hookup", str(tmp_path / "gone.json")).returncode == 2


def test_fix_prints_the_least_work_and_what_it_proves(tmp_path: Path) -> None:
    demo = str(DEMO / "schoolhouse.json")
    done = run("fix", demo, "stair-foot")
    said = done.stdout.decode()
    assert done.returncode == 0 and "10 min, inside the box" in said
    assert "Nothing under 10 min makes it hold" in said and said.rstrip().endswith("not a permit.")
    whole = run("fix", "--json", demo)
    data = json.loads(whole.stdout)
    assert whole.returncode == 1, "a circuit fails whatever is done in its box"
    assert sum(box["ways"][0]["minutes"] for box in data["boxes"] if box["ways"]) == data["total"]["minutes"]
    assert [box["leaves"] for box in data["boxes"] if box["leaves"]]
    empty = tmp_path / "empty.json"
    bare = json.loads(Path(demo).read_text()) | {"stock": [], "sheets": [], "boxes": [], "runs": [], "ticks": []}
    empty.write_text(json.dumps(bare))
    assert run("fix", str(empty)).returncode == 0 and run("fix", demo, "nowhere").returncode == 2
    full = json.loads(Path(demo).read_text()) | {"stock": [], "prices": [], "lamps": []}
    empty.write_text(json.dumps(full))
    stuck = run("fix", str(empty), "bell-room")
    assert stuck.returncode == 1 and "in the way: Volume: over by 3.25 in³" in stuck.stdout.decode()


def test_parts_and_day_print_what_a_house_takes(tmp_path: Path) -> None:
    """In this process: as text and as data; what is not known, what cannot be, bad input and none by their status."""
    demo, call = str(DEMO / "schoolhouse.json"), CliRunner().invoke
    said = call(main, ["parts", demo])
    assert said.exit_code == 3, "how many connectors some boxes take is not planned yet"
    assert "Rocker dimmer: 4; to buy 3 (1 in the shop)" in said.output and said.output.rstrip().endswith("permit.")
    assert "Wire connectors, not planned yet" in {
        part["name"] for part in json.loads(call(main, ["parts", "--json", demo]).output)["parts"]
    }
    assert call(main, ["parts", "--csv", demo]).output.startswith("kind,part,")
    assert call(main, ["parts", "--csv", "--json", demo]).exit_code == 2
    day = call(main, ["day", demo])
    assert day.exit_code == 0 and "Breakers opened 3 times; no plan has fewer." in day.output
    said_of = json.loads(Path(demo).read_text())
    short = tmp_path / "short.json"
    short.write_text(json.dumps(said_of | {"day": {"start": "8:00", "end": "8:30", "breaks": []}}))
    left = call(main, ["day", "--json", str(short)])
    assert left.exit_code == 1 and "no day from 8:00 to 8:30 holds it" in json.loads(left.output)["left_out"][0]["why"]
    short.write_text(json.dumps(said_of | {"day": {"start": "noonish"}}))
    assert call(main, ["day", str(short)]).exit_code == 2 and call(main, ["parts", str(short)]).exit_code == 2
    short.write_text(json.dumps(said_of | {"boxes": [], "runs": [], "ticks": []}))
    empty = call(main, ["parts", str(short)])
    assert empty.exit_code == 0 and "Nothing is planned" in empty.output
    assert call(main, ["day", str(short)]).exit_code == 0


def test_the_folder_may_be_named_by_an_environment_variable(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """NAIL_COUNT_DATA stands for --data, which outranks it."""
    (tmp_path / "file").write_text("no folder")
    monkeypatch.setenv("NAIL_COUNT_DATA", str(tmp_path / "file" / "data"))
    done = run("serve", "--port", "0")
    assert done.returncode == 2 and str(tmp_path / "file" / "data").encode() in done.stderr
    assert b"NAIL_COUNT_DATA" in run("serve", "--help").stdout


HEAVY = (
    *("numpy", "ortools", "sqlalchemy", "fastapi", "reportlab", "scipy", "networkx"),
    *("nail_count.trade.edits.registry", "nail_count.trade.search.ways", "nail_count.web"),
)
"""What a rule and the answer to one line do without: large libraries, and what loads most of our own modules."""


@pytest.mark.parametrize(
    "does",
    [
        "import nail_count.trade.rules.check",
        "from nail_count.cli import main\n"
        "try:\n    main(['check', '--line', '1g 18in3; 14/2 x2; switch'])\nexcept SystemExit:\n    pass",
        "from nail_count.cli import main\n"
        "try:\n    main(['plan', '--line', '1g 18in3; 14/2 x2; switch'])\nexcept SystemExit:\n    pass",
    ],
)
def test_an_answer_loads_nothing_heavy(does: str) -> None:
    """A rule, and the count of one box on the command line, start at once."""
    code = f"{does}\nimport sys\nprint('loaded', [name for name in {HEAVY} if name in sys.modules])"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert done.stdout.splitlines()[-1:] == ["loaded []"], done.stdout[-300:] + done.stderr[-300:]
