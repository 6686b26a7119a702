"""The job file: a whole job as one JSON document, versioned, its schema generated from the models."""

from __future__ import annotations

import json
import re
from dataclasses import replace
from typing import Any

from pydantic import ValidationError

from ..trade.model.errors import Problem, problems_of
from ..trade.model.job import FORMAT_VERSION, Job
from ..trade.upgrades import to_version_2, to_version_3

MOST_BYTES = 20_000_000
"""A file above this size is refused unread."""

MOST_OF = {"boxes": 4000, "circuits": 1000, "stock": 1000, "sheets": 2000, "runs": 20_000, "ticks": 200_000}
"""Of each in one file: twice what a house may have and more, so that a job a little too large comes in again."""

SCHEMA_ID = "urn:nail-count:job:2"


class BadFile(ValueError):
    """The file is not a job file. Its problems tell each error and its place."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__(problems[0].sentence)
        self.problems = problems

    def __reduce__(self) -> tuple[Any, ...]:
        """As it goes from one process to another: with all its problems."""
        return type(self), (self.problems,)

    @classmethod
    def because(cls, sentence: str) -> BadFile:
        """A file that is wrong as a whole."""
        return cls([Problem((), sentence)])


def read_job(content: bytes) -> Job:
    """The job in a job file.

    Args:
        content: the file's bytes, UTF-8.

    Raises:
        BadFile: it is empty, no text, broken off, of another version or shape; its problems say which and where.

    >>> read_job(b'{"format": "nail-count job", "version": 1, "name": "Schoolhouse"}').name
    'Schoolhouse'
    """
    if len(content) > MOST_BYTES:
        raise BadFile.because(f"Pick a job file of at most {MOST_BYTES // 1_000_000} MB")
    if not content.strip():
        raise BadFile.because("This file is empty. Pick a job file")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as wrong:
        raise BadFile.because(f"This is not a job file: it is no UTF-8 text (byte {wrong.start})") from wrong
    if "\0" in text:
        raise BadFile.because(f"This is not a job file: it is binary (byte {text.index(chr(0))})")
    document = _parse(text)
    if _HALVES.search(text) and not _is_text(document):
        raise BadFile.because("This file can't be read: it holds halves of characters (\\ud800 to \\udfff)")
    return job_of(document)


def job_of(document: Any) -> Job:
    """The job in a document already parsed from JSON.

    Raises:
        BadFile: as [read_job][nail_count.files.job_json.read_job] does.
    """
    if not isinstance(document, dict):
        raise BadFile.because("This is not a job file: it is no object with “format”, “version” and “name”")
    if document.get("format") != "nail-count job":
        raise BadFile([Problem(("format",), "This is not a job file: its format isn't “nail-count job”")])
    for name, most in MOST_OF.items():
        if isinstance(document.get(name), list) and len(document[name]) > most:
            raise BadFile([Problem((name,), f"A job file holds at most {most} {name}: one house")])
    version = document.get("version")
    if version not in (1, 2, FORMAT_VERSION) or isinstance(version, bool):
        shown = json.dumps(version)[:20]
        raise BadFile(
            [
                Problem(
                    ("version",),
                    f"This job file has version {shown}. Update this Nail Count: it reads 1 to {FORMAT_VERSION}",
                )
            ]
        )
    try:
        for upgrade in (to_version_2.job, to_version_3.job)[version - 1 :]:
            document = upgrade(document)
        return Job.model_validate(document)
    except ValidationError as wrong:
        problems = problems_of(wrong)
        raise BadFile([_as_in_version_1(one) for one in problems] if version == 1 else problems) from wrong


def _as_in_version_1(problem: Problem) -> Problem:
    """At the place where the file has it: version 1 had no stages."""
    return replace(problem, path=tuple(step for step in problem.path if step != "planned"))


_HALVES = re.compile(r"\\u[dD][89a-fA-F]")
"""How JSON can spell half of a character."""


def holds_halves(text: str) -> bool:
    """Whether JSON spells half of a character somewhere: it could be read, and written nowhere."""
    if not _HALVES.search(text):
        return False
    try:
        return not _is_text(json.loads(text))
    except ValueError:  # no JSON at all: whoever reads it says so
        return False


def _is_text(document: Any) -> bool:
    try:
        json.dumps(document, ensure_ascii=False).encode()
    except UnicodeEncodeError:
        return False
    return True


def _parse(text: str) -> Any:
    try:
        return json.loads(text)
    except json.JSONDecodeError as wrong:
        where = f"line {wrong.lineno}, column {wrong.colno}"
        if wrong.pos >= len(text.rstrip()) or wrong.msg.startswith("Unterminated string"):
            raise BadFile.because(f"The file breaks off at {where}") from wrong
        raise BadFile.because(f"This is not a job file: at {where}, {wrong.msg.lower()}") from wrong
    except RecursionError as wrong:
        raise BadFile.because("This is not a job file: its JSON is nested too deep") from wrong
    except ValueError as wrong:
        raise BadFile.because(f"This is not a job file: its numbers are too long: {wrong}") from wrong


def write_job(job: Job) -> str:
    """The job as the text of a job file; reading it gives the same job."""
    return json.dumps(job.model_dump(mode="json", exclude_none=True), indent=1, ensure_ascii=False) + "\n"


def job_schema() -> dict[str, Any]:
    """The JSON Schema of the job file (draft 2020-12), generated from the models."""
    schema = Job.model_json_schema(mode="validation")
    schema["required"] = ["format", "version", *schema["required"]]
    dialect = "https://json-schema.org/draft/2020-12/schema"
    return {"$schema": dialect, "$id": SCHEMA_ID, **schema, "title": "Nail Count job file"}
