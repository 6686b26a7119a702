"""Opens the database: SQLite in WAL mode, foreign keys on, every commit on the disk, migrated to the newest tables."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event


def open_database(file: Path) -> Engine:
    """The database in this file, ready for use; makes its folder and the file where they are missing.

    Raises:
        OSError: the folder cannot be made or written to.
    """
    file.parent.mkdir(parents=True, exist_ok=True)
    engine = make_engine(file)
    migrate(engine)
    return engine


def make_engine(file: Path) -> Engine:
    """The engine, with the settings every connection needs."""
    engine = create_engine(f"sqlite:///{file}", connect_args={"timeout": 10})

    @event.listens_for(engine, "connect")
    def _settings(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # SQLAlchemy says BEGIN itself, below
        cursor = connection.cursor()
        for setting in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "busy_timeout=10000"):
            cursor.execute(f"PRAGMA {setting}")
        cursor.close()

    @event.listens_for(engine, "begin")
    def _begin(connection: Any) -> None:
        mode = "" if connection.get_execution_options().get("reading") else " IMMEDIATE"
        connection.exec_driver_sql(f"BEGIN{mode}")

    return engine


def migrate(engine: Engine) -> None:
    """Brings the tables up to date."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
