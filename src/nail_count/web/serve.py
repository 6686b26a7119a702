"""Starts the server, with one's own jobs or with the demo house."""

from __future__ import annotations

import gc
import os
import socket
import sys
from collections.abc import Iterator
from contextlib import ExitStack, closing
from ipaddress import ip_address
from pathlib import Path
from typing import Literal

import click
import ifaddr
import uvicorn
from fastapi import FastAPI
from platformdirs import user_data_path
from sqlalchemy.exc import DBAPIError

from ..demo.house import put_demo
from ..store.hold import held
from ..store.trouble import Trouble, trouble_of
from . import workers
from .app import LOOPBACK, make_app


def user_folder(name: str) -> Path:
    """The folder for this data in the user's data folder."""
    return user_data_path(name, appauthor=False)


def database_in(data: Path, demo: bool = False) -> Path:
    """The file everything is kept in, in a data folder. The demo keeps to one of its own."""
    return data / ("demo.sqlite3" if demo else "nail-count.sqlite3")


def run(
    data: Path, host: str, port: int, allowed: tuple[str, ...], demo: Literal["fresh", "once"] | None = None
) -> None:
    """Serves until it is stopped. Exits with status 2 and a sentence where it cannot."""
    os.umask(0o077)  # the data here is nobody else's
    database = database_in(data, demo is not None)
    try:
        with ExitStack() as stack:
            if demo == "fresh" and data.exists():
                with held(database, alone=True):
                    for end in ("", "-wal", "-shm"):
                        database.with_name(database.name + end).unlink(missing_ok=True)
            listener = stack.enter_context(closing(listen(host, port)))
            stack.enter_context(held(database))
            app = make_app(database, (*LOOPBACK, *names_of(host), *allowed))
            if demo:
                put_demo(app.state.store)
            for line in _greeting(database, host, listener.getsockname()[1]):
                click.echo(line)
            sys.stdout.flush()
            workers.warm()
            serve(app, listener)
    except (Trouble, DBAPIError) as wrong:
        said = wrong if isinstance(wrong, Trouble) else trouble_of(wrong, database)
        click.echo(f"nail-count: {said}", err=True)
        sys.exit(2)
    except OSError as wrong:
        click.echo(f"nail-count: {wrong.strerror or wrong} ({wrong.filename or f'{host}:{port}'})", err=True)
        sys.exit(2)


def _greeting(database: Path, host: str, port: int) -> Iterator[str]:
    shown = f"[{host}]" if ":" in host else host
    yield f"Nail Count is at http://{shown}:{port}/  (Ctrl+C stops it)"
    yield f"Data folder: {database.parent}  ({database.name} in it holds everything; take a backup now and then)"
    if not is_loopback(host):
        names = ", ".join(f"http://{f'[{name}]' if ':' in name else name}:{port}/" for name in names_of(host))
        yield "Warning: others can reach this address. Whoever can may read and change every job; there is no password."
        yield f"It answers to {names}"


def is_loopback(host: str) -> bool:
    """Whether only this machine can reach an address.

    >>> is_loopback("127.0.0.1"), is_loopback("localhost"), is_loopback("0.0.0.0")
    (True, True, False)
    """
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"


def names_of(host: str) -> tuple[str, ...]:
    """What an address may be called by: itself; where it stands for every address of the machine, all of these.

    >>> names_of("192.0.2.7")
    ('192.0.2.7',)
    """
    try:
        every = ip_address(host).is_unspecified
    except ValueError:
        every = False
    if not every:
        return (host,)
    own = [str(ip.ip if ip.is_IPv4 else ip.ip[0]) for adapter in ifaddr.get_adapters() for ip in adapter.ips]
    named = socket.gethostname()
    return tuple(dict.fromkeys((*own, named, f"{named}.local")))


NEW_OBJECTS = 50_000
"""After how many more objects the collector looks for cycles: of dozens of acts, not twice in each."""


def serve(app: FastAPI, listener: socket.socket) -> None:
    """Serves an application until it is stopped."""
    gc.collect()
    gc.freeze()  # modules loaded now stay; the collector need not walk it again at every act
    gc.set_threshold(NEW_OBJECTS, 10, 10)
    server = uvicorn.Server(uvicorn.Config(app, log_level="warning", access_log=False, server_header=False))
    server.run(sockets=[listener])


def listen(host: str, port: int) -> socket.socket:
    """A socket on this address; port 0 takes any. Raises OSError where it cannot be had."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # Named TCP, so that the event loop turns off its waiting for fuller packets: without that an act takes 40 ms more.
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
