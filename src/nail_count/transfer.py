"""Take jobs out in other forms and bring them in: nail-count export and import."""

from __future__ import annotations

import sys
from collections.abc import Iterable, Iterator
from contextlib import ExitStack, closing, contextmanager
from itertools import chain
from pathlib import Path
from tempfile import gettempdir
from typing import IO, TYPE_CHECKING

import click

from .files.archive import BEGINS, BadArchive, opened_archive
from .files.job_json import BadFile
from .files.spread import MOST_BYTES, read_spread, text_of
from .terminal import data_option, overwrite_option, read_file, refuse
from .trade.edits.base import Edit
from .trade.model.errors import Rejected
from .trade.model.job import Job
from .trade.rules.check import fitting_job

if TYPE_CHECKING:
    from .store.store import Store

_TO_FILE = click.Path(path_type=Path, dir_okay=False)
_TO_FOLDER = click.Path(path_type=Path, file_okay=False)


@click.command()
@click.argument("file", type=click.Path(path_type=Path), required=False)
@click.option("--job", "key", help="In place of FILE: a job kept here, by the name in its address.")
@click.option("--xlsx", type=_TO_FILE, help="A spreadsheet, its counts as formulas.")
@click.option("--csv", "csv_to", type=_TO_FOLDER, help="A folder for tables as CSV.")
@click.option("--svg", "svg_to", type=_TO_FOLDER, help="A folder for drawings as SVG.")
@click.option("--png", "png_to", type=_TO_FOLDER, help="A folder for drawings as PNG.")
@click.option("--pdf", type=_TO_FILE, help="All papers as one PDF.")
@click.option("--json", "as_json", type=_TO_FILE, help="The job file.")
@click.option("--archive", type=_TO_FILE, help="Job file, history and pictures in one; of a job kept here.")
@data_option
@overwrite_option
def export(
    file: Path | None,
    *,
    key: str | None,
    xlsx: Path | None,
    csv_to: Path | None,
    svg_to: Path | None,
    png_to: Path | None,
    pdf: Path | None,
    as_json: Path | None,
    archive: Path | None,
    data: Path | None,
    overwrite: bool,
) -> None:
    """Export a job in other forms. Each file is written whole or not at all.

    Prints each file as it is written.
    """
    from .files.take_out import Wanted, taken_out

    wanted = Wanted(xlsx, csv_to, svg_to, png_to)
    if not (wanted.any or pdf or as_json or archive):
        raise click.UsageError("Give --xlsx, --csv, --svg, --png, --pdf, --json or --archive, with where to put it")
    if (file is None) == (key is None):
        raise click.UsageError("Name a job FILE, or give --job with one that is kept here")
    if archive is not None and key is None:
        raise click.UsageError("Give --job with --archive: history and pictures are kept here, not in a job file")
    with ExitStack() as stack:
        store = None if key is None else stack.enter_context(_opened(data, to_read=True))
        whole = read_file(file) if file is not None else _kept(store, key or "")
        job = fitting_job(whole)
        made: Iterable[tuple[Path, bytes | IO[bytes]]] = chain(
            _files(whole, job, as_json, pdf, store), taken_out(job, wanted)
        )
        if archive is not None and store is not None:
            made = chain([(archive, store.archives.file(key or ""))], made)
        written = 0
        for at, content in made:
            _to_disk(at, content, overwrite)
            written += 1
    click.echo(f"{written} file{'' if written == 1 else 's'}")


def _files(
    whole: Job, job: Job, as_json: Path | None, pdf: Path | None, store: Store | None
) -> Iterator[tuple[Path, bytes]]:
    from .files.job_json import write_job
    from .files.pdf import papers_pdf
    from .trade.edits.fields import now
    from .trade.plan.papers.all_papers import papers

    def photo(id: str) -> bytes | None:
        return store.photo(id, small=False) if store and id in store.photos_here({id}) else None

    if as_json is not None:
        yield as_json, write_job(whole).encode()
    if pdf is not None:
        made = list(papers(job))
        if not made:
            refuse(pdf, "There is nothing to put on paper yet: nothing is hooked up or built")
        yield pdf, papers_pdf(job, made, "letter", made=now(), photo=photo)


def _to_disk(at: Path, content: bytes | IO[bytes], overwrite: bool) -> None:
    """Write a file, from an open one where the content is in one already, and say so."""
    from .files.whole import AlreadyThere, copy_whole, write_whole

    try:
        at.parent.mkdir(parents=True, exist_ok=True)
        write_whole(at, content, overwrite) if isinstance(content, bytes) else copy_whole(content, at, overwrite)
    except AlreadyThere:
        refuse(at, "This file is there already. Add --overwrite to replace it")
    except OSError as wrong:
        refuse(at, f"It can't be written there: {(wrong.strerror or str(wrong)).lower()}")
    click.echo(f"{at}")


@contextmanager
def _opened(data: Path | None, begin: bool = False, to_read: bool = False) -> Iterator[Store]:
    """Open the data folder, and hold the folder so that nothing replaces it meanwhile.

    Args:
        data: the folder; None for the user's own.
        begin: start an empty database where there is none.
        to_read: make do with a copy where the folder may only be read.
    """
    from sqlalchemy.exc import DBAPIError

    from .store.hold import held
    from .store.scratch import scratch
    from .store.trouble import ReadOnly, Trouble, trouble_of
    from .web.serve import database_in, user_folder

    folder = data or user_folder("nail-count")
    database = database_in(folder)
    if not database.exists() and database_in(folder, demo=True).exists():
        database = database_in(folder, demo=True)  # a folder of the demo house
    if not begin and not database.exists():
        refuse(database, "There are no jobs here. Name their folder with --data")
    with ExitStack() as stack:
        try:
            try:
                stack.enter_context(held(database))
                store = _store(database)
            except ReadOnly:
                if not to_read:
                    raise
                store = _store(_copied(database, stack.enter_context(scratch(Path(gettempdir())))))
        except Trouble as wrong:
            refuse(database, wrong.sentence)
        stack.enter_context(closing(store))
        try:
            yield store
        except (DBAPIError, Trouble) as wrong:
            refuse(database, (wrong if isinstance(wrong, Trouble) else trouble_of(wrong, database)).sentence)


def _store(database: Path) -> Store:
    from .store.database import open_database
    from .store.store import Store

    return Store(open_database(database))


def _copied(database: Path, folder: Path) -> Path:
    """Copy a database that may only be read to where it can be opened."""
    from .store.backup import copy_or_take

    copy = folder / database.name
    copy_or_take(database, copy)
    return copy


def _kept(store: Store | None, key: str) -> Job:
    """A job kept here, by its key."""
    from .store.snapshots import NotFound

    assert store is not None
    try:
        return store.whole_job(key)
    except NotFound:
        known = ", ".join(card.key for card in store.jobs())
        refuse(Path(key), f"Pick one of the jobs kept here: {known or 'none'}")


@click.command()
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option(
    "--into", help="Of a table of boxes or a panel directory: the job it goes into, by the name in its address."
)
@click.option("--directory", is_flag=True, help="FILE is a panel directory: a breaker a line.")
@click.option("--amps", type=click.IntRange(1, 200), help="Of a directory: amps where a line says none.")
@click.option("--room", default="", help="Of a table: the room of rows that name none.")
@click.option("--look", is_flag=True, help="Only tells what was understood; imports nothing.")
@data_option
def bring_in(
    file: Path, *, into: str | None, directory: bool, amps: int | None, room: str, look: bool, data: Path | None
) -> None:
    """Import FILE: a job file or an archive as a new job, a table of boxes or a panel directory into a job.

    All of it lands as one act, or nothing. Exit status: 0 done, 1 some rows were not understood and stayed out, 2 bad
    input.
    """
    try:
        with file.open("rb") as opened:
            start = opened.read(len(BEGINS))
    except OSError as wrong:
        refuse(file, f"This file can't be read: {(wrong.strerror or str(wrong)).lower()}")
    if into is None:
        if directory or look:
            raise click.UsageError("Give --into with the job it is for")
        _new_job(file, start == BEGINS, data)
        return
    from .store.snapshots import NotFound

    try:
        with _opened(data) as store:
            text = text_of(_start_of(file))
            edit, wrong_lines = (_circuits if directory else _boxes)(store, into, text, room, amps)
            if edit is not None and not look:
                store.act(into, edit)
    except NotFound:
        refuse(Path(into), "Pick one of the jobs kept here")
    except BadFile as wrong:
        refuse(file, wrong.problems[0].sentence)
    except Rejected as wrong:
        refuse(file, wrong.sentence)
    if edit is None:
        refuse(file, "Nothing in it is both understood and new")
    sys.exit(1 if wrong_lines else 0)


def _pictures(done: int, of: int) -> None:
    """Says how far it has come, now and then."""
    if done == of or done % 20 == 0:
        click.echo(f"{done} of {of} pictures", err=True)


def _start_of(file: Path) -> bytes:
    """A table, or so much of something larger that it is seen to be too large."""
    with file.open("rb") as opened:
        return opened.read(MOST_BYTES + 1)


def _new_job(file: Path, archive: bool, data: Path | None) -> None:
    job = None if archive else read_file(file)  # before anything is begun here
    try:
        with _opened(data, begin=True) as store:
            if job is not None:
                key = store.add_job(job)
            else:
                with opened_archive(file) as opened:
                    key = store.archives.put(opened, _pictures)
    except BadArchive as wrong:
        refuse(file, str(wrong))
    click.echo(f"{file}: imported as {key}")


def _boxes(store: Store, key: str, text: str, room: str, amps: int | None) -> tuple[Edit | None, int]:
    """What a table brings in, printed row by row; how many rows are not understood."""
    from .files.boxes_table import boxes_in
    from .trade.quick_entry.rows import BringInBoxes, landing

    house, spread = store.house(key), read_spread(text)
    here = [(card.room, card.name) for card in house.all_cards]
    _, rows = boxes_in(spread, house.job.sheets, house.job.head.circuit_ids, here, room)
    click.echo(spread.how, err=True)
    for row in rows:
        said = [f"{cell.column}: enter {cell.expected}" for cell in row.reading.problems]
        said = said or [cell.means for cell in row.reading.cells if cell.means]
        note = "stays out: " if row.reading.box is None else "is here already: " if row.is_here else ""
        click.echo(f"{row.number}: {note}{'; '.join(said)}")
    boxes = landing(rows)
    wrong = sum(row.reading.box is None for row in rows)
    click.echo(f"{len(boxes)} boxes; {wrong} rows not understood")
    return (BringInBoxes(new=boxes) if boxes else None), wrong


def _circuits(store: Store, key: str, text: str, room: str, amps: int | None) -> tuple[Edit | None, int]:
    """What a directory brings in, printed line by line; how many lines are not understood."""
    from .trade.quick_entry.directory import read_directory
    from .trade.quick_entry.rows import BringInCircuits, new_circuits

    known = store.job(key).head.circuit_ids
    lines = read_directory(text, amps)
    for line in lines:
        click.echo(f"{line.text}: enter {line.expected}" if line.expected else line.means)
    new = new_circuits(lines, known)
    wrong = sum(bool(line.expected) for line in lines)
    click.echo(f"{len(new)} breakers; {wrong} lines not understood")
    return (BringInCircuits(new=new) if new else None), wrong
