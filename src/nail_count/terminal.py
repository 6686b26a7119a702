"""Share what every command needs: its options, how to read a file, how to answer and to refuse."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import NoReturn

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
