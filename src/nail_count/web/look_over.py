"""Looks over the whole database now and then while the server runs, so that damage is found before it spreads."""

from __future__ import annotations

import logging
import sqlite3
from asyncio import sleep
from contextlib import suppress
from pathlib import Path

from ..store.database import check_whole
from ..store.store import Store
from . import workers

FIRST_AFTER, EVERY = 60.0, 3600.0
"""When it is looked over after the start, and how often then [s]."""
_log = logging.getLogger("uvicorn.error")


async def look_over(store: Store, first_after: float = FIRST_AFTER, every: float = EVERY) -> None:
    """Look over the database again and again; once something is wrong, stop all writing and end."""
    await sleep(first_after)
    while True:
        with suppress(workers.TookTooMuch):
            if damage := await workers.run_async("file", _damage, store.file):
                _log.error("%s is damaged: %s", store.file, damage)
                store.stop_writing(damage)
                return
        await sleep(every)


def _damage(file: Path) -> str:
    try:
        return check_whole(file)
    except UnicodeDecodeError:
        return "its text cannot be read"
    except sqlite3.DatabaseError as wrong:
        code = getattr(wrong, "sqlite_errorcode", 0) & 0xFF
        return str(wrong) if code in (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB) else ""
