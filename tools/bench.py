"""What things cost, as ratios within one run, since these machines are noisy: make bench.

- checking a four-gang box, as a multiple of parsing that box from its JSON (aim: at most 10);
- what makes a four-gang box hold, in milliseconds (aim: at most 300); the demo house whole; a job of 200 boxes;
- a hook-up proven, as a multiple of parsing its boxes (aim: at most 20);
- twenty conductors told apart, in milliseconds (aim: at most 100);
- a plan from one line on the command line, as a multiple of loading click and pydantic (aim: at most 4), and in
  seconds (aim: under one);
- one edit through HTTP, as a multiple of a bare FastAPI route that commits one SQLite row (aim: at most 5), and what
  it costs the server's processor (aim: at most 3 times the bare route);
- the pages of a house of 2,000 boxes, as multiples of what the demo's cost the server (aim: at most 3);
- memory after 10,000 acts, beside that after 2,000 (aim: at most 10 MB more).
"""

from __future__ import annotations

import http.client
import json
import multiprocessing
import os
import re
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from types import MappingProxyType
from typing import Any
from urllib.parse import urlencode

sys.path.insert(0, str(Path(__file__).parent.parent))

from fastapi import FastAPI
from sqlalchemy import text
from tests.trade.plan.test_day import circuit_by_circuit, known_best, scored
from tests.trade.wiring.hookup.houses import box, job, lamp
from tests.trade.wiring.hookup.schemes import apart

from nail_count.demo.house import put_demo
from nail_count.files.fix_report import searched
from nail_count.files.job_json import read_job, write_job
from nail_count.store.database import make_engine
from nail_count.trade.model.box import Box
from nail_count.trade.model.conductor import Reading
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.plan.day.solve import planned
from nail_count.trade.rules.check import check_box, check_job, ratings_of
from nail_count.trade.search.offers import offers
from nail_count.trade.search.ways import ways
from nail_count.trade.search.whole_job import mended, to_mend
from nail_count.trade.wiring.hookup import graph as graphs
from nail_count.trade.wiring.hookup import proof as proofs
from nail_count.trade.wiring.hookup.colors import wires_of
from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.proof import prove
from nail_count.trade.wiring.hookup.propose import Proposal, propose
from nail_count.trade.wiring.identify.infer import infer
from nail_count.trade.wiring.identify.next_reading import _rated, _row, next_reading
from nail_count.web.app import make_app
from nail_count.web.serve import listen, serve

BOX = "stair-foot"
FORM = {"content-type": "application/x-www-form-urlencoded", "hx-request": "true"}


def alternate(acts: dict[str, Callable[[], Any]], runs: int) -> dict[str, list[float]]:
    """Seconds of each run of each act, the acts taken in turn so that noise falls on all alike."""
    took: dict[str, list[float]] = {name: [] for name in acts}
    for _ in range(runs):
        for name, act in acts.items():
            begun = time.perf_counter()
            act()
            took[name].append(time.perf_counter() - begun)
    return took


def report(title: str, took: dict[str, list[float]], aim: float) -> None:
    """Medians, their ratio, and the aim."""
    (base, base_runs), *others = took.items()
    one = statistics.median(base_runs)
    print(title)
    print(f"  {base}: median {one * 1e3:.3f} ms of {len(base_runs)} runs")
    for name, runs in others:
        other, slow = statistics.median(runs), statistics.quantiles(runs, n=20)[-1]
        print(f"  {name}: median {other * 1e3:.3f} ms, 95th percentile {slow * 1e3:.3f} ms of {len(runs)} runs")
        print(f"  ratio of medians {other / one:.1f}   (aim: at most {aim:g})")
    print()


def afresh(act: Callable[[], object]) -> Callable[[], object]:
    """The act as if nothing had been reckoned before."""

    def do() -> object:
        ratings_of.cache_clear()
        return act()

    return do


def core() -> None:
    """Parsing and checking one box."""
    job = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    sheets = by_id(job.sheets)
    box = next(box for box in job.boxes if box.id == BOX)
    document = box.model_dump_json(exclude_none=True)
    acts = {
        "parse a four-gang box from JSON": lambda: Box.model_validate_json(document),
        "check it, nothing known before": afresh(lambda: check_box(box, sheets, job.terms)),
    }
    alternate(acts, 200)
    report("Core", alternate(acts, 3000), 10)


def whole_job() -> None:
    """A file of two hundred boxes: parsed, checked, and the same sums in a spreadsheet where that is installed."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    boxes = tuple(demo.boxes[n % len(demo.boxes)].changed(id=f"b{n}", name=f"Box {n}") for n in range(200))
    content = write_job(demo.changed(boxes=boxes)).encode()
    job = read_job(content)
    acts = {
        "parse a job of 200 boxes": lambda: read_job(content),
        "check it, nothing known before": afresh(lambda: check_job(job)),
    }
    alternate(acts, 2)
    report("A whole job", alternate(acts, 12), 10)
    office = shutil.which("soffice") or shutil.which("libreoffice")
    if office is None:
        print("  (no LibreOffice here to recalculate the same job as a spreadsheet)\n")
        return
    with tempfile.TemporaryDirectory() as scratch:
        sheet = Path(scratch) / "job.csv"
        rows = [
            f"{sum(c.insulated for c in box.cables)},{len(box.devices)},{int(box.enclosure.clamps)},"
            f'"=A{n}*2.25+B{n}*4.5+C{n}*2.25+2.25"'
            for n, box in enumerate(boxes, 1)
        ]
        sheet.write_text("\n".join(rows))
        command = [office, "--headless", "--convert-to", "ods", "--outdir", scratch, str(sheet)]
        begun = time.perf_counter()
        subprocess.run(command, check=True, capture_output=True, timeout=300)
        print(f"  the same rows recalculated by LibreOffice, its start included: {time.perf_counter() - begun:.1f} s\n")


def mending() -> None:
    """What makes a box hold: a crowded one of four gangs with its usual moves, the demo house, a job of 200 boxes."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    (row,) = (one for one in demo.boxes if one.id == BOX)
    full = row.enclosure.changed(volume="44 in3")
    stays = row.survey.changed(plate_stays=None, cavity="4 in")
    crowded = row.changed(enclosure=full, survey=stays, wishes=())
    job = demo.changed(boxes=tuple(crowded if one.id == BOX else one for one in demo.boxes))
    took = {"the least work": 1, "and two of other kinds": 3}
    print(f"What makes a box hold: four gangs, {len(offers(job, BOX)[0])} moves   (aim: at most 300 ms)")
    for title, most in took.items():
        times = []
        for _ in range(7):
            begun = time.perf_counter()
            ratings_of.cache_clear()
            found = ways(job, BOX, most)
            times.append(time.perf_counter() - begun)
        assert found.found
        print(f"  {title}: median {statistics.median(times) * 1e3:.0f} ms; {searched(found.found)}")
    boxes = tuple(demo.boxes[n % len(demo.boxes)].changed(id=f"b{n}", name=f"Box {n}") for n in range(200))
    for title, house in (("the demo house", demo), ("a job of 200 boxes", demo.changed(boxes=boxes, runs=()))):
        begun = time.perf_counter()
        rows = list(mended(house, to_mend(house)))
        print(f"  {title}: {len(rows)} boxes in {time.perf_counter() - begun:.1f} s")
    print()


def hookup() -> None:
    """Proving a pair of three-ways, and the largest group a house has: a four-way, a main, companions and a fan."""
    pair, sheets = apart("three-way", "three-way"), {"d1": "wired-main", "d2": "fan-and-light"}
    boxes = [
        box("a", "A2 B3 C3", sheets, "d1@lamp d2.1@fan d2.2@fan"), box("m", "A3 B3", {"d1": "companion"}),
        box("b", "A3 B2", {"d1": "companion"}), lamp("lamp"), lamp("fan", "A3"),
    ]  # fmt: skip
    crowd = job(boxes, "a.A=1 a.B=m.A m.B=b.A b.B=lamp.A a.C=fan.A")
    _hookup("A pair of three-ways", pair)
    _hookup("A main, two companions, a fan and its light", crowd)


def anew(house: Job) -> Job:
    """The house, as if nothing of it had been worked out before."""
    for kept in (graphs.remembered, proofs.remembered, wires_of):
        kept.cache_clear()
    return house


def _hookup(title: str, house: Job) -> None:
    made = propose(house, "a")
    assert isinstance(made, Proposal)
    done = house.changed(boxes=tuple(one.changed(splices=made.splices[one.id]) for one in house.boxes))
    documents = [one.model_dump_json(exclude_none=True) for one in done.boxes]
    acts: dict[str, Callable[[], object]] = {
        "parse its boxes from JSON": lambda: [Box.model_validate_json(text) for text in documents],
        "wired together and proven": lambda: prove(graph(anew(done)).network),
        "proposed, every way tried proven": lambda: propose(anew(house), "a"),
    }
    alternate(acts, 20)
    report(title, alternate(acts, 300), 20)


def wires() -> None:
    """Twenty conductors told apart, after some readings, and the next reading found."""
    sizes = (3, 3, 3, 3, 2, 2, 2, 2)
    cables = [{"id": "ABCDEFGH"[n], "gauge": "12 AWG", "insulated": wires} for n, wires in enumerate(sizes)]
    taken = [
        {"id": f"r{n}", "kind": "volts", "of": f"{letter}1", "on": ["1"], "volts": volts}
        for n, (letter, volts) in enumerate(zip("AEBF", (120, 120, 0, 0), strict=True))
    ]
    box = Box.model_validate(
        {"id": "b", "name": "B", "room": "R", "circuit": "1", "cables": cables, "readings": taken}
        | {"planned": {"enclosure": {"gangs": 4}}}
    )
    worked = infer(box)

    def afresh() -> None:
        """As if the program had just started."""
        for kept in (_rated, _row):
            kept.cache_clear()
        next_reading(worked)

    values = iter(range(100, 10_000))

    def one_more() -> None:
        """One cable has changed; the others are as they were."""
        taken = Reading(id="new", kind="volts", of="C2", on=("1",), volts=120, electronic=next(values) % 2 == 0)
        next_reading(infer(box.changed(readings=(*box.readings, taken))))

    acts = {
        "twenty conductors worked out": lambda: infer(box),
        "and the next reading found, nothing known before": afresh,
        "and the next reading found, after one more reading": one_more,
    }
    alternate(acts, 3)
    print("Telling apart   (aim: 100 ms in all)")
    for name, took in alternate(acts, 30).items():
        slow = statistics.quantiles(took, n=20)[-1] * 1e3
        print(f"  {name}: median {statistics.median(took) * 1e3:.1f} ms, 95th percentile {slow:.1f} ms")
    print()


def days() -> None:
    """Plans of days whose best is known, beside plain work circuit by circuit."""
    print("Days   (aim: 40 places on 12 breakers within 5 % of the best in 10 s, 200 on 40 within 15 % in 60 s)")
    for places, breakers, most, seconds in ((40, 12, 3, 10), (200, 40, 14, 60)):
        for seed in range(3):
            at = known_best(places, breakers, most, seed)
            begun = time.perf_counter()
            plan = planned(at, seconds)
            took = time.perf_counter() - begun
            left, _, _, openings, dark = scored(plan, at)
            plain = circuit_by_circuit(at)
            print(
                f"  {places:3} places, {breakers} breakers: {left} left out, {openings} openings, {dark} min dark in "
                f"{took:4.1f} s; plain: {plain[0]}, {plain[3]}, {plain[4]}; best: 0, {breakers}, {most * 480}"
            )
    print()


def command() -> None:
    """One box planned from a line, each time by a process of its own."""
    line = '1g 18in3; 14/2 feed, 14/2 to light; smart dimmer "Hall" 4x9W led'

    def python(*arguments: str) -> Callable[[], object]:
        return lambda: subprocess.run([sys.executable, *arguments], stdout=subprocess.DEVNULL, check=False)

    acts = {
        "load click and pydantic": python("-c", "import click; from pydantic import BaseModel"),
        "plan a box from a line": python("-m", "nail_count", "plan", "--line", line),
    }
    alternate(acts, 2)
    report("Command line", alternate(acts, 20), 4)


def bare(file: Path) -> FastAPI:
    """A route that does nothing but commit one row, with the store's own settings."""
    app = FastAPI()
    file.touch()
    engine = make_engine(file)
    with engine.begin() as on:
        on.execute(text("create table act (id integer primary key, body text)"))

    @app.post("/act")
    def act() -> dict[str, bool]:
        with engine.begin() as on:
            on.execute(text("insert into act (body) values ('x')"))
        return {"done": True}

    app.state.act = act
    return app


def ours(file: Path) -> FastAPI:
    """Nail Count with its demo house."""
    app = make_app(file)
    put_demo(app.state.store)
    return app


def _serve(make: Callable[[Path], FastAPI], file: Path, said: Any) -> None:
    listener = listen("127.0.0.1", 0)
    said.send(listener.getsockname()[1])
    serve(make(file), listener)


@dataclass(frozen=True, slots=True)
class Served:
    """An application in a process of its own, and a connection to it that stays open."""

    process: int
    connection: http.client.HTTPConnection

    @property
    def address(self) -> str:
        """Where it is."""
        return f"http://{self.connection.host}:{self.connection.port}"

    def ask(self, method: str, path: str, body: str = "", headers: Mapping[str, str] = MappingProxyType({})) -> bytes:
        """What it answers, which must be that all is well."""
        self.connection.request(method, path, body, dict(headers))
        answer = self.connection.getresponse()
        content = answer.read()
        assert answer.status == 200, content[:500]
        return content

    @property
    def seconds(self) -> float:
        """What it has cost its processor so far."""
        words = Path(f"/proc/{self.process}/stat").read_text().rpartition(")")[2].split()
        return (int(words[11]) + int(words[12])) / os.sysconf("SC_CLK_TCK")

    @property
    def megabytes(self) -> float:
        """What it holds in memory."""
        pages = int(Path(f"/proc/{self.process}/statm").read_text().split()[1])
        return pages * os.sysconf("SC_PAGE_SIZE") / 1e6


@contextmanager
def serving(make: Callable[[Path], FastAPI], file: Path) -> Iterator[Served]:
    """The application, served until it is no longer needed."""
    spawn = multiprocessing.get_context("spawn")
    hear, said = spawn.Pipe()
    process = spawn.Process(target=_serve, args=(make, file, said))
    process.start()
    port = hear.recv()
    first = http.client.HTTPConnection("127.0.0.1", port)  # waits until the server is up
    first.request("GET", "/openapi.json")
    first.getresponse().read()
    first.close()
    connection = http.client.HTTPConnection("127.0.0.1", port)
    try:
        assert process.pid
        yield Served(process.pid, connection)
    finally:
        connection.close()
        process.terminate()
        process.join()


class Editing:
    """A cable put into a box and taken out again, over and over, as the page sends it."""

    def __init__(self, kept: Served) -> None:
        self.kept, self.bench = kept, f"/jobs/schoolhouse/boxes/{BOX}"
        self.revision, self.there = "1", False
        self.page: dict[str, str] = {}
        """The digest of each section the page shows."""
        self.hooked, self.apart = "1", False
        self.sizes: list[int] = []
        """Of the answers to a cable added [bytes]."""

    def edit(self) -> None:
        """One act, and its answer."""
        said = {"cable": "G"} if self.there else {"gauge": 14, "insulated": 2}
        body = urlencode({"revision": self.revision, **said})
        name = "remove-cable" if self.there else "add-cable"
        shown = {"x-sections": " ".join("=".join(one) for one in self.page.items())}
        answer = self.kept.ask("POST", f"{self.bench}/edit/{name}", body, FORM | shown)
        found = re.search(r'id="shown" data-revision="(\d+)"', answer.decode())
        assert found
        if not self.there and self.page:
            self.sizes.append(len(answer))
        self.page |= dict(re.findall(r'id="([\w-]+)" data-digest="(\w+)"', answer.decode()))
        self.revision, self.there = found[1], not self.there

    def ways(self) -> None:
        """What would hold, asked for after an act."""
        assert b"best order" in self.kept.ask("GET", f"{self.bench}/ways", headers=FORM)

    def hookup(self) -> None:
        """What joins what in a box, taken apart or proposed anew, with its proof."""
        page = "/jobs/schoolhouse/boxes/front-door/hookup"
        name = "propose-hookup" if self.apart else "clear-hookup"
        body = urlencode({"revision": self.hooked, "stage": "planned"})
        answer = self.kept.ask("POST", f"{page}/edit/{name}", body, FORM)
        found = re.search(r'data-revision="(\d+)"', answer.decode())
        assert found
        self.hooked, self.apart = found[1], not self.apart


def web() -> None:
    """One edit through HTTP against the bare route, both on one disk, each in a process of its own."""
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch)
        with serving(bare, folder / "bare.sqlite3") as plain, serving(ours, folder / "kept.sqlite3") as kept:
            here = Editing(kept)

            def commit() -> None:
                assert json.loads(plain.ask("POST", "/act")) == {"done": True}

            acts = {
                "bare route, one row committed": commit,
                "an edit of a four-gang box, bench rendered": here.edit,
                "what would hold, asked for after it": here.ways,
                "a hook-up taken apart, or proposed and proven": here.hookup,
            }
            alternate(acts, 30)
            report("Through HTTP", alternate(acts, 400), 5)
            before = plain.seconds, kept.seconds
            alternate({"bare": commit, "ours": here.edit}, 600)
            one, other = plain.seconds - before[0], kept.seconds - before[1]
            print("Processor time of the server, acts in turn")
            print(f"  bare route {one / 0.6:.2f} ms, an edit {other / 0.6:.2f} ms an act of 600")
            print(f"  ratio {other / one:.1f}   (aim: at most 3)")
            print(f"  answer to a cable added: at most {max(here.sizes) / 1000:.1f} kB   (aim: 10)\n")


def large(file: Path) -> FastAPI:
    """The demo house, and one of 2,000 boxes made of its boxes."""
    app = ours(file)
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    many = len(demo.boxes)

    def one_more(n: int) -> Box:
        """A box of the demo once more; its loads hang at the outlets that came with it, so that everything fits."""
        content, turn = demo.boxes[n % many].model_dump_json(exclude_none=True), n // many
        for key in (outlet.id for outlet in demo.boxes):
            content = content.replace(f'"outlet":"{key}"', f'"outlet":"{key}-{turn}"')
        box = Box.model_validate_json(content)
        return box.changed(id=f"{box.id}-{turn}", name=f"Box {n}", room=f"Room {n // 8}")

    boxes = tuple(one_more(n) for n in range(2000 // many * many))
    app.state.store.add_job(demo.changed(boxes=boxes, runs=()), "large")
    return app


def houses() -> None:
    """The first pages of a house of 2,000 boxes beside the demo's."""
    print("A house of 2,000 boxes, processor time of the server beside the demo's   (aim: at most 3 times)")
    with tempfile.TemporaryDirectory() as scratch, serving(large, Path(scratch) / "kept.sqlite3") as kept:
        for page in ("", "/panel", "/sheets", "/papers/labels", "/relamping", "/next-visit"):
            took = {"schoolhouse": 0.0, "large": 0.0}
            for n in range(21):
                for job in took:
                    begun = kept.seconds
                    for _ in range(3):  # the processor's clock ticks in hundredths
                        kept.ask("GET", f"/jobs/{job}{page}")
                    took[job] += kept.seconds - begun if n else 0
            ratio = took["large"] / took["schoolhouse"]
            print(f"  {page or '/':12} {took['large'] / 0.06:6.1f} ms, {ratio:.1f} times")
    print()


def memory() -> None:
    """What the server holds after many acts."""
    with tempfile.TemporaryDirectory() as scratch, serving(ours, Path(scratch) / "kept.sqlite3") as kept:
        here, held = Editing(kept), []
        for acts in (2_000, 8_000):
            for _ in range(acts):
                here.edit()
            held.append(kept.megabytes)
    print(f"Memory: {held[0]:.0f} MB after 2,000 acts, {held[1]:.0f} MB after 10,000   (aim: at most 10 MB more)\n")


if __name__ == "__main__":
    core()
    whole_job()
    mending()
    hookup()
    wires()
    days()
    command()
    web()
    houses()
    memory()
