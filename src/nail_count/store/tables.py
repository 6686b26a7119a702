"""The tables. A document is kept as numbered revisions, added and never overwritten; each is of one change.

A job has documents: its head (name, rule set, circuits), its sheets, its boxes. What lists show stands in plain columns
beside a box's document, so that a list never parses one.
"""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, LargeBinary, String, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Of every table."""


class JobRow(Base):
    """A job."""

    __tablename__ = "job"

    id: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(String(60), unique=True)
    """In addresses."""
    name: Mapped[str] = mapped_column(String(120))
    made: Mapped[datetime]
    cache_version: Mapped[int] = mapped_column(default=1)
    """Counts the changes of its terms and sheets, so that what was parsed of them can be kept."""
    deleted_at: Mapped[datetime | None]
    """When it was removed; it is kept all the same and can be brought back."""
    began: Mapped[datetime | None]
    """When it began to come in; None once it is in."""


class TrialRow(Base):
    """A trial: changes that are kept as one, or thrown away."""

    __tablename__ = "trial"

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"), index=True)
    about: Mapped[str] = mapped_column(String(60))
    """The key of the box it was begun at."""
    started: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    kept_by: Mapped[int | None]
    """The change that kept it; None where it is open or was thrown away."""


class ChangeRow(Base):
    """One act, over as many documents as it needed."""

    __tablename__ = "change"
    __table_args__ = (UniqueConstraint("job_id", "token"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"))
    trial_id: Mapped[int] = mapped_column(default=0)
    sentence: Mapped[str] = mapped_column(Text)
    at: Mapped[datetime]
    by: Mapped[str] = mapped_column(String(60), default="")
    """Who did it, where they gave a name."""
    token: Mapped[str | None] = mapped_column(String(64))
    """Of the form it came from: one that is sent again is not done again."""
    undoes: Mapped[int | None] = mapped_column(index=True)
    """The change it takes back, or brings back."""


class DocumentRow(Base):
    """A thing of a job that is kept as revisions: `latest` is the newest."""

    __tablename__ = "document"
    __table_args__ = (
        UniqueConstraint("job_id", "kind", "key", "trial_id"),
        CheckConstraint("kind in ('head', 'sheet', 'box', 'run')", name="kind_known"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"), index=True)
    kind: Mapped[str] = mapped_column(String(10))
    key: Mapped[str] = mapped_column(String(60))
    place: Mapped[int]
    """In the job's order."""
    latest: Mapped[int]
    deleted_at: Mapped[datetime | None]
    """When it was removed; it is kept all the same and can be brought back."""
    trial_id: Mapped[int] = mapped_column(default=0)
    """The trial it belongs to; 0 for the real job."""
    copy_of: Mapped[int | None] = mapped_column(index=True)
    """Of a copy in a trial: the document it is a copy of."""
    copied_at: Mapped[int | None]
    """The revision of the original it was copied from."""
    used: Mapped[datetime | None]
    """Of a sheet: when a device of it was last put into a box."""


class RevisionRow(Base):
    """One state of a document. Undo and redo add revisions too; `back` and `forth` say where they lead from here."""

    __tablename__ = "revision"

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    body: Mapped[str] = mapped_column(Text)
    """The document as JSON; `null` where it was taken out."""
    format: Mapped[int]
    """The format it is written in; one of an earlier format is upgraded when it is read."""
    change_id: Mapped[int] = mapped_column(ForeignKey("change.id"), index=True)
    """What made it."""
    back: Mapped[int | None]
    """The revision that undo goes back to; None at the beginning."""
    forth: Mapped[int | None]
    """The revision that redo goes to; None after an edit."""
    source_revision: Mapped[int]
    """The edit that first made this state; after an edit, the revision itself."""
    checksum: Mapped[int]
    """CRC-32 of the body, in UTF-8: a bit that flips on the disk is noticed when the body is read."""


class RunEndRow(Base):
    """At which boxes a run ends."""

    __tablename__ = "run_end"

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    box: Mapped[str] = mapped_column(String(60), primary_key=True, index=True)


class SheetUseRow(Base):
    """Which sheets a box uses."""

    __tablename__ = "sheet_use"

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    sheet: Mapped[str] = mapped_column(String(60), primary_key=True, index=True)


class TickRow(Base):
    """A step ticked: added, never changed."""

    __tablename__ = "tick"
    __table_args__ = (UniqueConstraint("job_id", "key"), UniqueConstraint("job_id", "token"))

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"))
    key: Mapped[str] = mapped_column(String(12))
    box: Mapped[str] = mapped_column(String(60))
    body: Mapped[str] = mapped_column(Text)
    """The tick as JSON."""
    token: Mapped[str | None] = mapped_column(String(64))


class SetupCodeRow(Base):
    """A device's setup code: apart from all revisions, so that it can be deleted for good."""

    __tablename__ = "setup_code"

    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"), primary_key=True)
    box: Mapped[str] = mapped_column(String(60), primary_key=True)
    device: Mapped[str] = mapped_column(String(12), primary_key=True)
    came: Mapped[int] = mapped_column(primary_key=True)
    """The revision of the box that the device came with: another device may have its id later."""
    code: Mapped[str] = mapped_column(String(200))
    at: Mapped[datetime]


class SimulatedHubRow(Base):
    """What the simulated hub of a job remembers: the stand-in's own, in no job file."""

    __tablename__ = "simulated_hub"

    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"), primary_key=True)
    body: Mapped[str] = mapped_column(Text)
    """As JSON."""


class TokenRow(Base):
    """By which a program may call. The token itself is kept nowhere: only what it is known by."""

    __tablename__ = "token"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(60))
    """Of the program."""
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    """SHA-256 of the token."""
    made: Mapped[datetime]
    expires_at: Mapped[datetime | None]
    """None: never."""
    withdrawn_at: Mapped[datetime | None]
    used: Mapped[datetime | None]
    """When it was last used, to the hour."""


class SummaryRow(Base):
    """What lists show of a box."""

    __tablename__ = "summary"

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    room: Mapped[str] = mapped_column(String(60))
    name: Mapped[str] = mapped_column(String(60))
    circuits: Mapped[str] = mapped_column(Text)
    """Every circuit that feeds it, or may, as a JSON list."""
    works: Mapped[str] = mapped_column(Text)
    """What its devices work over the network, box/device, as a JSON list."""
    gangs: Mapped[int]
    use: Mapped[str] = mapped_column(String(12))
    """What the box is for."""
    state: Mapped[str] = mapped_column(String(10), index=True)
    binds: Mapped[str] = mapped_column(Text)
    """What sets the state, in a few words."""
    rail: Mapped[str] = mapped_column(Text)
    """Its small rail, as JSON: capacity and nails."""
    todo: Mapped[int]
    """How much of its survey is left; −1: not reckoned yet."""


class PhotoRow(Base):
    """A picture, by what it shows: the same picture is kept once."""

    __tablename__ = "photo"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    body: Mapped[bytes] = mapped_column(LargeBinary)
    """JPEG, upright, without what a camera writes beside it."""
    small: Mapped[bytes] = mapped_column(LargeBinary)
    width: Mapped[int]
    height: Mapped[int]
    made: Mapped[datetime]
