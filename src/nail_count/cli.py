"""Answer the command line: nail-count serve, demo, check, hookup, fix, parts, day, papers, export, import and more."""

from __future__ import annotations

import json
import sys
from importlib.resources import files
from pathlib import Path
from typing import cast

import click

from . import __version__
from .files.hookup_report import hookup_data, hookup_text
from .files.job_json import job_of
from .files.report import CAUTION, check_data, check_text
from .terminal import (
    BAD_INPUT,
    STOPS,
    Stopped,
    allow_option,
    data_option,
    host_option,
    looked_for,
    overwrite_option,
    port_option,
    print_out,
    read_file,
    refuse,
    tell,
)
from .trade.assume.wired import look_as_usual
from .trade.documents import Documents, JobAtHand, wired_with
from .trade.model.answer import State
from .trade.model.box import Box
from .trade.model.job import Job, by_id
from .trade.quick_entry.parse import read_line
from .trade.rules.check import check_job, fitting_job
from .trade.wiring.hookup.look import look
from .trade.wiring.hookup.stages import Stage, contents_at
from .transfer import bring_in, export

_STATUS = {State.HOLDS: 0, State.TIGHT: 0, State.OPEN: 3, State.FAILS: 1}
_HELP = {"help_option_names": ["-h", "--help"]}


@click.group(context_settings=_HELP)
@click.version_option(__version__, prog_name="nail-count")
def main() -> None:
    """Count what goes into switch boxes: volume, derating, loads.

    Give - for a job FILE to read it from standard input.
    """


@main.command()
@click.argument("file", type=click.Path(path_type=Path), required=False)
@click.option("--line", help="Check one box given as a line of quick entry; FILE, if given, brings the sheets.")
@click.option("--explain", is_flag=True, help="Say for each line why it counts so.")
@click.option("--json", "as_json", is_flag=True, help="Print the answers as JSON.")
def check(file: Path | None, line: str | None, explain: bool, as_json: bool) -> None:
    """Check every box of a job file, or one box entered as a line.

    Exit status: 0 all pass, 1 something fails, 3 nothing fails but something is open, 2 bad input.
    """
    if file is None and line is None:
        raise click.UsageError("Name a job FILE, or give --line with one box")
    job = _no_boxes() if file is None else read_file(file)
    if line is not None:
        job = _job_of(line, job)
    checked = check_job(job)
    print_out(
        json.dumps(check_data(job, checked), indent=1, ensure_ascii=False)
        if as_json
        else check_text(job, checked, explain=explain)
    )
    sys.exit(_STATUS[checked.state])


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("box", required=False)
@click.option("--found", is_flag=True, help="The box as found. Without it: as planned.")
@click.option("--json", "as_json", is_flag=True, help="Print plan, proof, readings and work as JSON.")
def hookup(file: Path, box: str | None, found: bool, as_json: bool) -> None:
    """Print the hook-up of BOX in a job file, or of every box: what joins what, its proof, readings, and the work.

    Exit status: 0 all proven, 1 something fails, 3 nothing fails but something is not known, 2 bad input.
    """
    job = read_file(file)
    stage: Stage = "found" if found else "planned"
    known = {one.id: one for one in job.boxes}
    if box is not None and box not in known:
        refuse(file, f"Name one of its boxes, such as {next(iter(known), 'none')}; there is no {box}")
    wanted = [box] if box else [id for id, one in known.items() if any(s.ends for s in contents_at(one, stage).splices)]
    if not wanted:
        refuse(file, "Nothing is hooked up in this house yet")
    documents = Documents(JobAtHand(job), {})
    around = {id: wired_with(documents, known[id]) for id in wanted}
    looked = [(look(around[id], id, stage), ()) if found else look_as_usual(around[id], id) for id in wanted]
    if as_json:
        print_out(json.dumps([hookup_data(*one) for one in looked], indent=1, ensure_ascii=False))
    else:
        print_out("\n\n".join([*(hookup_text(*one) for one in looked), CAUTION]))
    sys.exit(_STATUS[max(State.OPEN if rests_on else one.state for one, rests_on in looked)])


@main.command()
@click.option("--line", required=True, help="The box as a line of quick entry, with the device that goes in.")
@click.argument("file", type=click.Path(path_type=Path), required=False)
@click.option("--json", "as_json", is_flag=True, help="Print the plan as JSON.")
def plan(line: str, file: Path | None, as_json: bool) -> None:
    """Plan one box entered as a line: verdict, hook-up, parts and steps. FILE, if given, brings terms and sheets.

    Exit status: 0 it holds, 1 something fails, 3 it rests on what nobody has checked, 2 bad input.
    """
    from .files.plan_report import plan_data, plan_of_line, plan_text
    from .trade.model.errors import Rejected

    job = _no_boxes() if file is None else read_file(file)
    try:
        planned = plan_of_line(line, job)
    except Rejected as wrong:
        _job_of(line, job)  # ends here where the line can't be read, with a mark under the word
        click.echo(f"{wrong}.", err=True)
        sys.exit(BAD_INPUT)
    print_out(json.dumps(plan_data(planned), indent=1, ensure_ascii=False) if as_json else plan_text(planned))
    sys.exit(_STATUS[planned.state])


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("box")
@click.option("--json", "as_json", is_flag=True, help="Print the steps and their operations as JSON.")
def steps(file: Path, box: str, as_json: bool) -> None:
    """Print the steps of the work in BOX of a job file, in order.

    Exit status: 0 every step can be done, 3 something must be planned or recorded first, 2 bad input.
    """
    from .files.steps_report import steps_data, steps_text

    job = fitting_job(read_file(file))
    known = {one.id: one for one in job.boxes}
    if box not in known:
        refuse(file, f"name one of its boxes, such as {next(iter(known), 'none')}; there is no box {box}")
    around = wired_with(Documents(JobAtHand(job), {}), known[box])
    data = steps_data(around, box, job.ticks)
    print_out(
        json.dumps(data, indent=1, ensure_ascii=False)
        if as_json
        else f"{steps_text(around, box, job.ticks)}\n{CAUTION}"
    )
    sys.exit(3 if any(one["missing"] for one in data["steps"]) else 0)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("box", required=False)
@click.option("--json", "as_json", is_flag=True, help="Print the ways, what they take and what was searched as JSON.")
def fix(file: Path, box: str | None, as_json: bool) -> None:
    """Find the least work that makes BOX of a job file hold, or every box that fails. Ctrl+C stops the search.

    Exit status: 0 all hold or can be made to, 1 something stays in the way, 2 bad input, 3 stopped.
    """
    # Read where it is needed, here and below: a command starts without what others need.
    from .files.fix_report import fix_data, fix_text
    from .trade.search.ways import MOST_WAYS
    from .trade.search.whole_job import mended, to_mend, total

    job = read_file(file)
    known = {one.id for one in job.boxes}
    if box is not None and box not in known:
        refuse(file, f"Name one of its boxes, such as {next(iter(sorted(known)), 'none')}; there is no {box}")
    boxes, rows = (box,) if box else to_mend(job), []
    tell(f"Looking at {len(boxes)} {'box' if len(boxes) == 1 else 'boxes'}. {STOPS}")
    with Stopped() as stopped:
        for row in mended(job, boxes, stopped.going_on, most=MOST_WAYS if box else 1):
            rows.append(row)
            tell(f"{len(rows)} of {len(boxes)}: {row.name}")
    sums = total(job, rows)
    if as_json:
        print_out(json.dumps(fix_data(job, rows, sums), indent=1, ensure_ascii=False))
    else:
        print_out(f"{fix_text(job, rows, sums)}\n{CAUTION}")
    if stopped.pressed:
        click.echo(f"Stopped after {len(rows)} of {len(boxes)}.", err=True)
        sys.exit(3)
    sys.exit(0 if all(one.ways.holds for one in rows) else 1)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print it as JSON.")
@click.option("--csv", "as_csv", is_flag=True, help="Print the parts as a table for a spreadsheet.")
def parts(file: Path, as_json: bool, as_csv: bool) -> None:
    """Print the parts list of a job file: what to buy, what it is for, and the tools.

    Exit status: 0 all is known, 2 bad input, 3 how much of something is needed is not known.
    """
    from .files.parts_report import parts_csv, parts_data, parts_text
    from .trade.plan.parts.parts_list import parts_list

    if as_json and as_csv:
        raise click.UsageError("Give --json or --csv, not both")
    job = fitting_job(read_file(file))
    if as_csv:
        print_out(parts_csv(job).rstrip("\r\n"))
    elif as_json:
        print_out(json.dumps(parts_data(job), indent=1, ensure_ascii=False))
    else:
        print_out(f"{parts_text(job)}\n{CAUTION}")
    sys.exit(3 if any(line.unknown for line in parts_list(job)) else 0)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print it as JSON.")
@click.option("--seconds", default=30.0, show_default=True, type=click.FloatRange(0.1, 3600), help="Look for so long.")
def day(file: Path, as_json: bool, seconds: float) -> None:
    """Plan the days of a job file by breaker: which boxes when, which breakers are off, who has no power.

    Ctrl+C stops the search and prints the best plan found.

    Exit status: 0 every place is in it and every promise kept, 1 one is not, 2 bad input, 3 stopped before it was
    proven that there is no better plan.
    """
    from .files.day_report import day_data, day_text, plan_of
    from .trade.plan.day.problem import problem
    from .trade.plan.day.schedule_text import without

    job = fitting_job(read_file(file))
    plan = looked_for(plan_of, f"Looking for the best plan, for {seconds:g} s at most.", job, seconds)
    plan = plan or plan_of(job, 0)
    if as_json:
        print_out(json.dumps(day_data(job, plan), indent=1, ensure_ascii=False))
    else:
        print_out(f"{day_text(job, plan)}\n{CAUTION}")
    broken = any(one.broken for one in without(job, problem(job), plan))
    sys.exit(1 if plan.left_out or broken else 0 if plan.finished else 3)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("box", required=False)
@click.option("--kind", help="Which paper: summary, inspector, as-built, handover, directory, map, notes, labels. All.")
@click.option("--size", type=click.Choice(["letter", "A4"]), default="letter", show_default=True)
@click.option("--pdf", type=click.Path(path_type=Path, dir_okay=False), required=True, help="Where to put the PDF.")
@overwrite_option
def papers(file: Path, *, box: str | None, kind: str | None, size: str, pdf: Path, overwrite: bool) -> None:
    """Make one PDF of the papers of a job file, or of one BOX of it."""
    from .files.pdf import PaperSize, papers_pdf
    from .files.whole import AlreadyThere, write_whole
    from .trade.edits.fields import now
    from .trade.model.errors import Rejected
    from .trade.plan.papers.all_papers import papers as papers_of
    from .trade.plan.papers.paper import PAPER_KINDS

    if kind is not None and kind not in PAPER_KINDS:
        refuse(file, f"There is no paper “{kind}”. Name one of {', '.join(PAPER_KINDS)}")
    job = fitting_job(read_file(file))
    try:
        made = list(papers_of(job, kind, [box] if box else None))
        if not made:
            refuse(file, "There is nothing to put on paper yet: nothing is hooked up or built")
        write_whole(pdf, papers_pdf(job, made, cast("PaperSize", size), made=now()), overwrite)
    except Rejected as wrong:
        refuse(file, str(wrong))
    except AlreadyThere:
        refuse(pdf, "This file is there already. Add --overwrite to replace it")
    except OSError as wrong:
        refuse(pdf, f"The PDF can't be written there: {(wrong.strerror or str(wrong)).lower()}")
    click.echo(f"{pdf}: {len(made)} paper{'' if len(made) == 1 else 's'}")


@main.command()
@click.argument("name", type=click.Choice(["schoolhouse", "hallway"]), default="schoolhouse")
def example(name: str) -> None:
    """Print an example job file."""
    print_out((files("nail_count.demo") / f"{name}.json").read_text(encoding="utf-8").rstrip("\n"))


def _no_boxes() -> Job:
    """Return the demo house without boxes, cable routes and ticks: a line needs its terms and sheets only."""
    document = json.loads((files("nail_count.demo") / "schoolhouse.json").read_text(encoding="utf-8"))
    return job_of({name: value for name, value in document.items() if name not in ("boxes", "runs", "ticks")})


def _job_of(line: str, job: Job) -> Job:
    """A job with the one box of this line; words it can't read are pointed at."""
    reading = read_line(line, Box(id="line", name="Quick entry", room="This line"), by_id(job.sheets))
    if reading.box is None:
        for wrong in reading.problems:
            click.echo(f"{line}\n{' ' * wrong.start}{'^' * len(wrong.text)} enter {wrong.expected}", err=True)
        sys.exit(BAD_INPUT)
    return job.changed(name="One box", boxes=(reading.box,), runs=(), ticks=())


@main.command()
@data_option
@host_option
@port_option
@allow_option
def serve(data: Path | None, host: str, port: int, allow_host: tuple[str, ...]) -> None:
    """Start Nail Count with your own jobs."""
    from .web.serve import run, user_folder

    run(data or user_folder("nail-count"), host, port, allow_host)


@main.command()
@data_option
@host_option
@port_option
@allow_option
@click.option("--fresh", is_flag=True, help="Put the demo house back as it was.")
def demo(data: Path | None, host: str, port: int, allow_host: tuple[str, ...], fresh: bool) -> None:
    """Start Nail Count with its demo house, apart from your own jobs."""
    from .web.serve import run, user_folder

    run(data or user_folder("nail-count-demo"), host, port, allow_host, demo="fresh" if fresh else "once")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@data_option
@overwrite_option
def backup(file: Path, data: Path | None, overwrite: bool) -> None:
    """Back up the whole data folder, with pictures and history, into one FILE. It works while Nail Count runs."""
    from .store.backup import InTheWay, back_up
    from .store.trouble import Trouble
    from .web.serve import database_in, user_folder

    database = database_in(data or user_folder("nail-count"))
    if not database.exists():
        refuse(database, "There are no jobs here to back up. Name their folder with --data")
    try:
        made = back_up(database, file, overwrite)
    except InTheWay:
        refuse(file, "This file is there already. Add --overwrite to replace it")
    except Trouble as wrong:
        refuse(database, wrong.sentence)
    except OSError as wrong:
        refuse(file, f"The backup can't be written there: {(wrong.strerror or str(wrong)).lower()}")
    click.echo(f"{file}: {made.jobs} jobs, {made.boxes} boxes, {made.photos} pictures; read back and whole")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@data_option
@overwrite_option
def restore(file: Path, data: Path | None, overwrite: bool) -> None:
    """Restore a backup FILE into the data folder. The data there now is moved aside, never deleted."""
    from .store.backup import BadBackup, InTheWay
    from .store.backup import restore as put_back
    from .store.trouble import Trouble
    from .web.serve import database_in, user_folder

    database = database_in(data or user_folder("nail-count"))
    try:
        done = put_back(file, database, overwrite)
    except InTheWay:
        refuse(database, "There are jobs in this folder. Add --overwrite to put them aside")
    except (BadBackup, Trouble) as wrong:
        refuse(file, str(wrong))
    except OSError as wrong:
        refuse(file, f"This backup can't be read and put back: {(wrong.strerror or str(wrong)).lower()}")
    click.echo(f"{database}: {done.manifest.jobs} jobs, {done.manifest.boxes} boxes, {done.manifest.photos} pictures")
    if done.put_aside is not None:
        click.echo(f"What was here before is in {done.put_aside}")


main.add_command(export)
main.add_command(bring_in, "import")
