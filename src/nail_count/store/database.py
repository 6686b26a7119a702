"""Opens the database: SQLite in WAL mode, foreign keys on, every commit on the disk, migrated to the newest tables.

It is never taken over from another program, never made where one should have been, and copied before every migration.

Only this module opens a database, and only through SQLite. POSIX drops every lock a process holds on a file as soon as
that process closes any handle to it, so one `open(file)` beside a live connection would let another process take itself
for the last user and delete the log this one goes on writing to.
"""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from hashlib import sha256
from itertools import count
from pathlib import Path
from typing import Any
from urllib.parse import quote
from zlib import crc32

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import DBAPIError

from . import trouble
from .replacing import is_half_replaced, put_logs_aside
from .trouble import trouble_of, trouble_of_os

APPLICATION_ID = 0x4E61436F
"""In the file's header: whose it is."""
OWNER_ONLY = 0o600
_HEADER = b"SQLite format 3\0"
_SMALLEST = 512
"""The smallest page SQLite writes [bytes]: a shorter file is no database, and nothing can have it open as one."""
_TABLES = {"job", "document", "revision", "alembic_version"}
"""What every version had."""


def open_database(file: Path) -> Engine:
    """The database in this file, ready for use; made where there is none, readable by its owner only.

    Raises:
        Trouble: it cannot be used; why, how much is safe, and what to do.
    """
    try:
        file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        if is_half_replaced(file):
            raise trouble.being_replaced(file)
        if not file.exists():
            put_logs_aside(file)  # SQLite would play an old log into the new database
            _begin(file)
        version = look_at(file)
        with suppress(PermissionError):
            file.chmod(OWNER_ONLY)
        if version != newest_version():
            copy_to(file, _free(file, f"before-{newest_version()}"))
        engine = make_engine(file)
        if version != newest_version():
            migrate(engine)
    except (DBAPIError, sqlite3.Error) as wrong:
        raise trouble_of(wrong, file) from wrong
    except OSError as wrong:
        raise trouble_of_os(wrong, file) from wrong
    return engine


def look_at(file: Path) -> str:
    """Return the version of a database that is there, once it is known to be whole and one of ours.

    Raises:
        Trouble: it is empty, damaged, another program's, or of a newer version.
        OSError: it cannot be read.
    """
    if file.stat().st_size < _SMALLEST:
        raise _too_short(file)
    try:
        with connected(file) as on:
            application = on.execute("PRAGMA application_id").fetchone()[0]
            tables = {row[0] for row in on.execute("select name from sqlite_master where type = 'table'")}
            if application not in (0, APPLICATION_ID) or not tables >= _TABLES:
                raise trouble.foreign(file)
            found = on.execute("PRAGMA quick_check(1)").fetchone()[0]
            if found != "ok":
                raise trouble.damaged(file, str(found))
            version = str((on.execute("select version_num from alembic_version").fetchone() or ("",))[0])
    except sqlite3.Error as wrong:
        raise trouble_of(wrong, file) from wrong
    except UnicodeDecodeError as wrong:  # a scratched schema, which the driver cannot even quote
        raise trouble.damaged(file, "its text cannot be read") from wrong
    if version not in {script.revision for script in _scripts().walk_revisions()}:
        raise trouble.newer(file)
    return version


def _too_short(file: Path) -> trouble.Trouble:
    """Describe a file too short to be a database."""
    start = file.read_bytes()[: len(_HEADER)]
    if not start:
        return trouble.empty(file)
    return trouble.damaged(file, "it is cut short") if _HEADER.startswith(start) else trouble.foreign(file)


@contextmanager
def connected(file: Path) -> Iterator[sqlite3.Connection]:
    """Open a database that is there for a short look at it, apart from any engine."""
    with closing(sqlite3.connect(_address(file), uri=True, timeout=10)) as on:
        yield on


def check_whole(file: Path) -> str:
    """Return the faults of a database; "" where it is whole.

    Every page is read and every index is held against its table; every body of a document is held against its checksum
    and every photo against its id, since a bit that flips within a text breaks no page.

    Raises:
        sqlite3.Error: it cannot be read at all.
    """
    with connected(file) as on:
        found = str(on.execute("PRAGMA integrity_check(1)").fetchone()[0])
        return _flipped(on) if found == "ok" else found


def _flipped(on: sqlite3.Connection) -> str:
    """The first body that is not what was written."""
    on.text_factory = bytes
    columns = {row[1] for row in on.execute("PRAGMA table_info(revision)")}
    if b"checksum" in columns:
        for document, number, body, checksum in on.execute("select document_id, number, body, checksum from revision"):
            if crc32(body) != checksum:
                return f"step {number} of document {document} is not what was written"
    if on.execute("select 1 from sqlite_master where name = 'tick'").fetchone():
        for (key,) in on.execute("select key from tick where not json_valid(body)"):
            return f"tick {key.decode(errors='replace')} is not what was written"
    if on.execute("select 1 from sqlite_master where name = 'photo'").fetchone():
        for id, body in on.execute("select id, body from photo"):
            if sha256(body).hexdigest()[: len(id)].encode() != id:
                return f"photo {id.decode(errors='replace')} is not what was taken in"
    return ""


def newest_version() -> str:
    """The version of the tables this program writes."""
    return str(_scripts().get_current_head())


def copy_to(file: Path, to: Path) -> None:
    """Copy a database whole into one new file, while others go on using it; leave none where it fails.

    Raises:
        sqlite3.Error: it cannot be copied, for want of room say.
        FileExistsError: there is something at that place.
    """
    os.close(os.open(to, os.O_CREAT | os.O_EXCL | os.O_WRONLY, OWNER_ONLY))
    try:
        with connected(file) as on:
            on.execute("VACUUM INTO ?", (str(to),))
        if wrong := check_whole(to):
            raise sqlite3.DatabaseError(f"the copy is not whole: {wrong}")
    except BaseException:
        to.unlink(missing_ok=True)
        raise


SETTINGS = ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "busy_timeout=10000", "secure_delete=ON")
"""Of every connection; nothing deleted for good leaves a trace."""


def make_engine(file: Path) -> Engine:
    """The engine, with the settings every connection needs. It makes no file: one that is gone stays gone."""
    engine = create_engine(f"sqlite:///{_address(file)}&uri=true", connect_args={"timeout": 10})

    @event.listens_for(engine, "connect")
    def _settings(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # SQLAlchemy says BEGIN itself, below
        cursor = connection.cursor()
        for setting in SETTINGS:
            cursor.execute(f"PRAGMA {setting}")
        cursor.close()

    @event.listens_for(engine, "begin")
    def _begin(connection: Any) -> None:
        mode = "" if connection.get_execution_options().get("reading") else " IMMEDIATE"
        connection.exec_driver_sql(f"BEGIN{mode}")

    return engine


def close_database(engine: Engine) -> None:
    """Leaves one whole file: the files beside it are merged, and every connection closed."""
    with suppress(DBAPIError), engine.connect().execution_options(reading=True) as on:
        on.rollback()
        raw = on.connection.dbapi_connection
        assert raw is not None
        raw.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    engine.dispose()


def migrate(engine: Engine) -> None:
    """Brings the tables up to date."""
    config = Config()
    config.set_main_option("script_location", _migrations())
    with engine.connect() as connection:
        raw = connection.connection.dbapi_connection
        assert raw is not None
        raw.execute("PRAGMA foreign_keys=OFF")  # a table written again is dropped while others point to it
        try:
            with connection.begin():
                config.attributes["connection"] = connection
                command.upgrade(config, "head")
                astray = connection.exec_driver_sql("PRAGMA foreign_key_check").all()
                if astray:
                    raise AssertionError(f"the tables point to rows that are not there: {astray[:3]}")
        finally:
            raw.execute("PRAGMA foreign_keys=ON")


def _begin(file: Path) -> None:
    """A new database, made beside its place and moved there when it is whole: no half of one is ever found."""
    new = _free(file, "new")
    os.close(os.open(new, os.O_CREAT | os.O_EXCL | os.O_WRONLY, OWNER_ONLY))
    try:
        engine = make_engine(new)
        try:
            migrate(engine)
        finally:
            close_database(engine)
        with suppress(FileExistsError):
            os.link(new, file)  # two that begin at once: the first one stays
    finally:
        for left in new.parent.glob(f"{new.name}*"):
            left.unlink(missing_ok=True)


def _free(file: Path, what: str) -> Path:
    """A place beside a file that nothing is at: ``nail-count.before-0006.sqlite3``."""
    names = (f"{file.stem}.{what}{f'-{n}' if n > 1 else ''}{file.suffix}" for n in count(1))
    return next(path for name in names if not (path := file.with_name(name)).exists())


def _address(file: Path) -> str:
    return f"file:{quote(str(file))}?mode=rw"


def _migrations() -> str:
    return str(Path(__file__).parent / "migrations")


def _scripts() -> ScriptDirectory:
    config = Config()
    config.set_main_option("script_location", _migrations())
    return ScriptDirectory.from_config(config)
