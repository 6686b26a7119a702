"""Starts the server, with one's own jobs or with the demo house."""

from __future__ import annotations

import gc
import socket
import sys
from importlib.resources import files
from pathlib import Path
from typing import Literal

import click
import uvicorn
from fastapi import FastAPI
from platformdirs import user_data_path

from ..files.job_file import read_job
from ..files.photo import take_in
from ..store.keep import Keep
from .app import LOOPBACK, make_app

DEMO_KEY = "schoolhouse"
LEAFLET_OF = "ostrel-wide-dimmer"
"""The sheet whose leaflet the demo has a picture of."""


def user_folder(name: str) -> Path:
    """The folder for this data in the user's data folder."""
    return user_data_path(name, appauthor=False)


def run(
    data: Path, host: str, port: int, allowed: tuple[str, ...], demo: Literal["fresh", "once"] | None = None
) -> None:
    """Serves until it is stopped. The demo keeps to a database of its own, whatever folder it is given."""
    database = data / ("demo.sqlite3" if demo else "nail-count.sqlite3")
    if demo == "fresh":
        for old in data.glob("demo.sqlite3*"):
            old.unlink()
    try:
        app = make_app(database, (*LOOPBACK, host, *allowed))
        if demo:
            put_demo(app.state.keep)
        listener = listen(host, port)
    except OSError as wrong:
        click.echo(f"nail-count: {wrong.strerror or wrong} ({wrong.filename or f'{host}:{port}'})", err=True)
        sys.exit(2)
    shown = f"[{host}]" if ":" in host else host
    click.echo(f"Nail Count is at http://{shown}:{listener.getsockname()[1]}/  (Ctrl+C stops it)")
    click.echo(f"Data: {database}")
    sys.stdout.flush()
    serve(app, listener)


def serve(app: FastAPI, listener: socket.socket) -> None:
    """Serves an application until it is stopped."""
    gc.collect()
    gc.freeze()  # what is loaded now stays; the collector need not walk it again at every act
    server = uvicorn.Server(uvicorn.Config(app, log_level="warning", access_log=False, server_header=False))
    server.run(sockets=[listener])


def listen(host: str, port: int) -> socket.socket:
    """A socket on this address; port 0 takes any. Raises OSError where it cannot be had."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # Named TCP, so that the event loop turns off its waiting for fuller packets: 40 ms an act otherwise.
    listener = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
        listener.listen(128)
    except OSError as wrong:
        wrong.filename = f"{host}:{port}"
        listener.close()
        raise
    return listener


def put_demo(keep: Keep) -> None:
    """The demo house, where it is not there yet, with the picture of one leaflet."""
    if keep.has_job(DEMO_KEY):
        return
    job = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    photo = take_in((files("nail_count.demo") / "leaflet.png").read_bytes())
    keep.add_photo(photo.id, photo.body, photo.small, photo.width, photo.height)
    leaflet = {"leaflet": photo.id}
    sheets = tuple(s.model_copy(update=leaflet) if s.id == LEAFLET_OF else s for s in job.sheets)
    keep.add_job(job.model_copy(update={"sheets": sheets}), DEMO_KEY)
