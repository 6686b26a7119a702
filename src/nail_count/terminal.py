"""Share what every command needs: its options, how to read a file, how to answer and to refuse."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Callable
from concurrent.futures import Future
from pathlib import Path
from typing import NoReturn, ParamSpec, Self, TypeVar

import click

from .files.job_json import BadFile, read_job
from .trade.model.job import Job

BAD_INPUT = 2

data_option = click.option(
    "--data",
    type=click.Path(file_okay=False, path_type=Path),
    envvar="NAIL_COUNT_DATA",
    show_envvar=True,
    help="Folder for the database. Without it: a folder of the user's data folder.",
)
host_option = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
port_option = click.option(
    "--port", default=8314, show_default=True, type=click.IntRange(0, 65535), help="Port to listen on; 0 takes any."
)
allow_option = click.option(
    "--allow-host", multiple=True, help="A further name this server may be called by, beside the loopback names."
)

overwrite_option = click.option("--overwrite", is_flag=True, help="Replace a file or data that is there already.")


def read_file(file: Path) -> Job:
    """The job in a file, - for standard input; errors are printed, and the command ends."""
    try:
        return read_job(sys.stdin.buffer.read() if str(file) == "-" else file.read_bytes())
    except OSError as wrong:
        refuse(file, f"This job file can't be read: {(wrong.strerror or str(wrong)).lower()}")
    except BadFile as wrong:
        for problem in wrong.problems[:20]:
            click.echo(f"{file}: {f'{problem.where}: ' if problem.where else ''}{problem.sentence}", err=True)
        sys.exit(BAD_INPUT)


def print_out(text: str) -> None:
    """Prints, and says so in a sentence where nothing more can be printed."""
    try:
        click.echo(text)
        sys.stdout.flush()
    except BrokenPipeError:
        sys.stderr.close()
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    except OSError as wrong:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        refuse(Path("the output"), f"not all of it could be written: {(wrong.strerror or str(wrong)).lower()}")


def refuse(file: Path, sentence: str) -> NoReturn:
    """Print the error in a file, and end the command."""
    click.echo(f"{file}: {sentence}", err=True)
    sys.exit(BAD_INPUT)


_P = ParamSpec("_P")
_R = TypeVar("_R")
STOPS = "Ctrl+C stops and prints what was found."
SOON = 0.2
"""After how long a command that is still at work says so [s]."""


def looked_for(work: Callable[_P, _R], says: str, *args: _P.args, **kwargs: _P.kwargs) -> _R | None:
    """Do work in a process of its own, which Ctrl+C ends at once; None: it was ended.

    Args:
        work: a function of a module.
        says: told on the terminal as soon as it takes a while.
    """
    from concurrent.futures import wait

    from pebble import ProcessPool

    pool = ProcessPool(max_workers=1)
    try:
        future: Future[_R] = pool.schedule(work, args=args, kwargs=dict(kwargs))
        wait((future,), SOON)
        if not future.done():
            tell(f"{says} {STOPS}")
        return future.result()
    except KeyboardInterrupt:  # it may come while the process is still being started
        return None
    finally:
        pool.stop()  # type: ignore[no-untyped-call]
        pool.join()


class Stopped:
    """Whether Ctrl+C was pressed: asked by work that goes on piece by piece and prints what it has."""

    def __init__(self) -> None:
        self.pressed = False

    def __enter__(self) -> Self:
        """Take Ctrl+C as a wish to stop; pressed again, it ends the program as usual."""
        self._before = signal.signal(signal.SIGINT, self._press)
        return self

    def __exit__(self, *_: object) -> None:
        """Take Ctrl+C as before."""
        signal.signal(signal.SIGINT, self._before)

    def _press(self, _signal: int, _frame: object) -> None:
        self.pressed = True
        signal.signal(signal.SIGINT, self._before)

    def going_on(self) -> bool:
        """Whether to go on."""
        return not self.pressed


def tell(sentence: str) -> None:
    """Say how far a command has come, where somebody looks at a terminal."""
    if sys.stderr.isatty():
        click.echo(sentence, err=True)
