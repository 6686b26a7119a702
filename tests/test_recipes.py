"""The recipes of CONTRIBUTING.md, each followed to the letter on a copy of the source: what it adds can be used.

What is added is made up and says so; it stands in no release.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
JOB = """
from nail_count.trade.model.job import Job
from nail_count.trade.rules.check import check_job, fitting_job
SHEET = {"id": "it", "name": "It", "kind": "dimmer", "channels": [{}], "terminals": [
    {"role": "line", "kind": "lead"}, {"role": "load", "kind": "lead"}]}
def job(sheet={}, terms={}, box={}, device={}):
    device = {"id": "d1", "sheet": "it", "gang": 1, **device}
    planned = {"enclosure": {"volume": "20 in3"}, "devices": [device]}
    said = {"id": "b", "name": "B", "room": "R", "circuit": "1", "planned": planned, **box}
    return Job.model_validate({"name": "J", "terms": terms, "circuits": [{"id": "1"}],
                               "sheets": [{**SHEET, **sheet}], "boxes": [said]})
"""
CLIENT = """
from pathlib import Path
from tempfile import mkdtemp
from starlette.testclient import TestClient
from nail_count.web.app import make_app
app = make_app(Path(mkdtemp()) / "kept.sqlite3")
app.state.store.add_job(job(), "j")
client = TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000))
"""


class Tree:
    """A copy of the source to follow a recipe on."""

    def __init__(self, folder: Path) -> None:
        self.source = folder / "src" / "nail_count"
        shutil.copytree(ROOT / "src" / "nail_count", self.source, ignore=shutil.ignore_patterns("__pycache__"))

    def put(self, file: str, text: str) -> None:
        """A new file."""
        path = self.source / file
        path.parent.mkdir(parents=True, exist_ok=True)
        assert not path.exists()
        path.write_text(text)

    def behind(self, file: str, place: str, text: str) -> None:
        """Some lines of a file behind what stands there once."""
        path = self.source / file
        was = path.read_text()
        assert was.count(place) == 1, f"{file} has “{place}” {was.count(place)} times"
        path.write_text(was.replace(place, place + text))

    def run(self, code: str) -> str:
        """What a program says on this copy."""
        env = os.environ | {"PYTHONPATH": str(self.source.parent)}
        done = subprocess.run(
            [sys.executable, "-c", code], env=env, cwd=self.source.parent, capture_output=True, text=True, check=False
        )
        assert done.returncode == 0, done.stderr[-2000:]
        return done.stdout.strip()


@pytest.fixture
def tree(tmp_path: Path) -> Tree:
    return Tree(tmp_path)


def test_add_a_rule(tree: Tree) -> None:
    tree.behind("trade/model/answer.py", "FindingCode = Literal[\n", '    "too-many-yellow",\n')
    tree.behind(
        "trade/rules/prohibitions.py",
        "        _legs,\n",
        "        _yellow,\n",
    )
    tree.behind(
        "trade/rules/prohibitions.py",
        'GROUND_WAYS: Mapping[GroundWay, str] = {\n    "plate": "a nonmetallic plate with nonmetallic screws",\n'
        '    "yoke": "a nonmetallic yoke",\n    "GFCI": "protection against ground faults ahead of it",\n'
        '    "sheath": "the armor or conduit, proven to be the ground",\n}\n',
        '''

def _yellow(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """Made up: no box is called yellow."""
    if box.name == "Yellow":
        yield Remark("too-many-yellow", ("a box is called yellow",), cite("1.1"), State.FAILS, ("another name",))


''',
    )
    said = tree.run(
        JOB + "(box,) = check_job(job(box={'name': 'Yellow'})).boxes\n"
        "print([(r.code, r.rule.name) for r in box.prohibitions.remarks if r.code == 'too-many-yellow'])"
    )
    assert said == "[('too-many-yellow', 'NEC 2023 1.1')]"


def test_add_an_edition(tree: Tree) -> None:
    tree.behind(
        "trade/model/edition.py",
        "    battery_control=True,\n)\n",
        'NEC_2099 = NEC_2023.followed_by("nec-2099", "NEC 2099", 2099, stair_dimming=False)\n',
    )
    tree.behind("trade/model/edition.py", "for one in (", "NEC_2099, ")
    said = tree.run(
        JOB + CLIENT + "later, before = (check_job(job(terms={'code': code})).boxes[0] for code in "
        "('nec-2099', 'nec-2017'))\n"
        "print({line.rule.source for line in later.fill.lines} - {'Common practice'},"
        " {line.rule.source for line in before.fill.lines} - {'Common practice'},"
        " 'NEC 2099' in client.get('/jobs/j').text)"
    )
    assert said == "{'NEC 2099'} {'NEC 2017'} True"


def test_add_a_region(tree: Tree) -> None:
    tree.behind(
        "trade/model/region.py",
        '    pulled=("red", "yellow", "blue", "brown", "gray", "white"),\n    pulled_neutral="black",\n)\n',
        'ATLANTIS = replace(UK_TODAY, id="Atlantis", title="Atlantis", usual={"yellow": _NEUTRAL, "gray": _HOT},\n'
        '                   in_cables={2: ("gray", "yellow")})\n',
    )
    tree.behind("trade/model/region.py", "for one in (", "ATLANTIS, ")
    said = tree.run(
        JOB + CLIENT + "from nail_count.trade.wiring.hookup.colors import wires_of\n"
        "from nail_count.trade.model.wire import Cable\n"
        "terms = job(terms={'colors': 'Atlantis'}).terms\n"
        "print([(w.color, w.neutral) for w in wires_of(Cable(id='A', gauge=14, insulated=2), terms.colors)],"
        " 'Atlantis' in client.get('/jobs/j').text)"
    )
    assert said == "[('gray', False), ('yellow', True)] True"


def test_add_a_kind_of_device(tree: Tree) -> None:
    tree.behind("trade/model/datasheet.py", '    "switch", "dimmer",', ' "foot pedal",')
    tree.behind("trade/rules/space/bulk.py", '        "switch": "0", "dimmer": "3",', ' "foot pedal": "5",')
    tree.behind("trade/plan/install/names.py", '    "switch": "switch",\n', '    "foot pedal": "foot pedal",\n')
    tree.behind(
        "web/templates/bench/face.html", "{% macro face(kind) %}\n", "{% if kind == 'foot pedal' %}<path/>{% endif %}"
    )
    said = tree.run(
        JOB
        + CLIENT.replace("job()", "job(sheet={'kind': 'foot pedal'})")
        + "from nail_count.trade.plan.papers.all_papers import papers\n"
        "it = job(sheet={'kind': 'foot pedal'})\n"
        "print(check_job(it).boxes[0].bulk.total > check_job(job()).boxes[0].bulk.total - 1, len(list(papers(it))) > 5,"
        " client.get('/jobs/j/boxes/b').status_code, client.get('/jobs/j/boxes/b/install').status_code,"
        " 'foot pedal' in client.get('/jobs/j/sheets').text)"
    )
    assert said == "True True 200 200 True"


def test_add_a_terminal_role(tree: Tree) -> None:
    tree.behind("trade/model/datasheet.py", '    "contact",\n', '    "spare hot",\n')
    tree.behind(
        "trade/wiring/hookup/wanted.py",
        '*main.ends("line"), *main.ends("contact")',
        ', *main.ends("spare hot")',
    )
    said = tree.run(
        "from nail_count.trade.text.datasheet_form import read_sheet, write_sheet\n"
        "from nail_count.trade.model.datasheet import Datasheet\n"
        "it = Datasheet(id='it', name='It', kind='dimmer')\n"
        "read = read_sheet(write_sheet(it) | {'terminals': 'line black, spare hot red, load blue'}, 'it')\n"
        "print([end.role for end in read.terminals])"
    )
    assert said == "['line', 'spare hot', 'load']"


def test_add_a_screen(tree: Tree) -> None:
    tree.put("web/pages/hello/__init__.py", '"""A greeting."""\n')
    tree.put(
        "web/pages/hello/routes.py",
        '''"""A greeting for a job."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ...deps import TheStore
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/hello", include_in_schema=False)


@router.get("")
def show(request: Request, store: TheStore, job: str) -> Response:
    """Show it."""
    return render(request, "hello/page.html", job=store.job(job))
''',
    )
    tree.put(
        "web/templates/hello/page.html",
        '{% extends "base.html" %}\n{% block main %}<main id="main">Hello, {{ job.head.name }}</main>{% endblock %}\n',
    )
    tree.behind(
        "web/app.py", "from .pages.progress import routes as progress\n", "from .pages.hello import routes as hello\n"
    )
    tree.behind("web/app.py", "        progress.router,\n", "        hello.router,\n")
    assert tree.run(JOB + CLIENT + "print('Hello, J' in client.get('/jobs/j/hello').text)") == "True"


def test_add_a_paper(tree: Tree) -> None:
    tree.behind("trade/plan/papers/paper.py", 'PaperKind = Literal["summary",', ' "greeting",')
    tree.behind(
        "trade/plan/papers/all_papers.py",
        "PAPERS: Mapping[PaperKind, KindOfPaper] = {\n",
        '    "greeting": KindOfPaper("Greeting", "house", lambda job, *_: iter((greeting_paper(job),))),\n',
    )
    tree.behind(
        "trade/plan/papers/all_papers.py",
        "from .handover import handover_paper\n",
        "from .greeting import greeting_paper\n",
    )
    tree.put(
        "trade/plan/papers/greeting.py",
        '''"""A greeting on paper."""

from ...model.job import Job
from .paper import Paper, Para, Section


def greeting_paper(job: Job) -> Paper:
    """Return the greeting."""
    return Paper("greeting", "Greeting", "", (Section("Hello", (Para(f"Hello, {job.name}"),)),))
''',
    )
    said = tree.run(
        JOB + CLIENT + "print('Hello, J' in client.get('/jobs/j/papers/greeting').text,"
        " client.get('/jobs/j/papers/greeting/pdf').content[:4], 'Greeting' in client.get('/jobs/j/papers').text,"
        " client.get('/api/v1/jobs/j/papers/greeting').status_code)"
    )
    assert said == "True b'%PDF' True 200"


def test_add_a_milestone(tree: Tree) -> None:
    tree.behind("trade/plan/progress.py", 'Milestone = Literal["survey",', ' "greeted",')
    tree.behind(
        "trade/plan/progress.py",
        "MILESTONES: Mapping[Milestone, Callable[[_Seen], Reached]] = {\n",
        '    "greeted": lambda seen: ("done", f"hello {seen.box.name}"),\n',
    )
    tree.behind("trade/plan/progress.py", '    "Look": (', '"greeted", ')
    tree.behind("web/pages/progress/routes.py", "SCREENS: Mapping[Milestone, str] = {\n", '    "greeted": "survey",\n')
    tree.behind("web/pages/progress/routes.py", "CALLED: Mapping[Milestone, str] = {\n", '    "greeted": "Greeted",\n')
    assert tree.run(JOB + CLIENT + "print('hello B' in client.get('/jobs/j/progress').text)") == "True"


def test_add_an_edit(tree: Tree) -> None:
    tree.put(
        "trade/edits/shout.py",
        '''"""A box is shouted at."""

from ..model.box import Box
from ..model.errors import Rejected
from .base import BoxEdit, BoxEdited, Datasheets


class Shout(BoxEdit):
    """The name of a box in capitals."""

    loud: bool = True

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with its name in capitals. Raises Rejected where it has them."""
        if box.name.isupper():
            raise Rejected("It is in capitals already.", "loud")
        return BoxEdited(box.changed(name=box.name.upper()), "Shouted")
''',
    )
    tree.behind("trade/edits/registry.py", "    practice,\n", "    shout,\n")
    tree.behind("trade/edits/registry.py", "    practice.Reveal,\n", "    shout.Shout,\n")
    said = tree.run(
        JOB.replace('"name": "B"', '"name": "Hall"') + CLIENT + "at = '/jobs/j/boxes/b/edit/shout'\n"
        "done = client.post(at, data={'revision': '1'})\n"
        "api = client.get('/api/v1/edits').text\n"
        "again = client.post(at, data={'revision': '2', 'asked_by': 'shout'})\n"
        "print(done.status_code, app.state.store.box('j', 'b').box.name, again.status_code,"
        " 'shout' in client.get('/openapi.json').text + api)"
    )
    assert said == "200 HALL 422 True"


def test_add_a_column_to_the_parts(tree: Tree) -> None:
    tree.behind(
        "files/parts_report.py",
        "COLUMNS: Mapping[str, Callable[[PartLine, Names], object]] = {\n",
        '    "shelf": lambda line, _: f"shelf {line.needed}",\n',
    )
    said = tree.run(
        JOB + "from nail_count.files.parts_report import parts_csv\n"
        "print([row.split(',')[0] for row in parts_csv(job()).splitlines()][:2])"
    )
    assert said == "['shelf', 'shelf 1']"


def test_add_a_symptom(tree: Tree) -> None:
    at = "trade/plan/trouble/"
    tree.behind(at + "symptoms.py", "Symptom = Literal[\n", '    "sulks",\n')
    tree.behind(at + "symptoms.py", "SEEN: Mapping[Symptom, str] = {\n", '    "sulks": "It sulks",\n')
    tree.behind(at + "symptoms.py", "STOP_FIRST: Mapping[Symptom, str] = {\n", '    "sulks": "",\n')
    tree.behind(
        at + "usual_causes.py", "_USUAL: tuple[_Usual, ...] = (\n",
        '    _Usual("mood", ("sulks",), _of(), "It is in a mood.", "Wait.", {}),\n',
    )  # fmt: skip
    said = tree.run(
        JOB + CLIENT + "from nail_count.demo.house import put_demo\n"
        "put_demo(app.state.store)\n"
        "at = '/jobs/schoolhouse/boxes/front-door/find-fault?load=front-door/l1'\n"
        "picked = client.get(at + '&symptom=sulks').text\n"
        "print('It sulks' in client.get(at).text and 'It is in a mood. Wait.' in picked)"
    )
    assert said == "True"


def test_every_recipe_stands_in_the_book() -> None:
    """Each is followed as it is written there, so each must be written there."""
    book = (ROOT / "CONTRIBUTING.md").read_text()
    names = [name.removeprefix("test_add_").replace("_", " ") for name in globals() if name.startswith("test_add_")]
    assert [name for name in names if f"\n## Add {name}\n" not in book] == []
