"""Tokens by which programs may call: made, shown once, looked up by what they are known by, withdrawn."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from hashlib import sha256

from sqlalchemy import insert, select, update

from ..trade.model.errors import Rejected
from .revisions import now
from .session import Session
from .snapshots import NotFound
from .tables import TokenRow

_T = TokenRow
_COLUMNS = _T.id, _T.name, _T.made, _T.expires_at, _T.withdrawn_at, _T.used
BEGINS = "nailcount_"
"""So that a token that lies about somewhere is known for what it is."""
MOST_DAYS = 3660
"""After so many a token expires at the latest, where it expires at all: ten years."""
_SEEN_EVERY = timedelta(hours=1)
"""How often it is noted that a token is used: noting every call would make each of them write."""


@dataclass(frozen=True, slots=True)
class Token:
    """A token, without what it says."""

    id: int
    name: str
    made: datetime
    expires_at: datetime | None
    withdrawn_at: datetime | None
    used: datetime | None

    @property
    def standing(self) -> str:
        """Whether it may be used: good, withdrawn or expired."""
        if self.withdrawn_at is not None:
            return "withdrawn"
        return "expired" if self.expires_at is not None and self.expires_at <= now() else "good"


class Tokens:
    """The tokens of one database."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def make(self, name: str, days: int | None = None) -> str:
        """A new token: the only time that it is ever told.

        Args:
            name: of the program it is for.
            days: after how many it expires; None: never.

        Raises:
            Rejected: at `name` or `days`.
        """
        if not 1 <= len(name.strip()) <= 60:
            raise Rejected("Enter what the program is called, at most 60 characters", "name")
        if days is not None and not 0 < days <= MOST_DAYS:
            raise Rejected(f"Enter 1 to {MOST_DAYS} days, or never", "days")
        token = f"{BEGINS}{secrets.token_urlsafe(32)}"
        expires = None if days is None else now() + timedelta(days=days)
        values = {"name": name.strip(), "digest": _digest(token), "made": now(), "expires_at": expires}
        with self._session.writing() as on:
            on.execute(insert(_T), values)
        return token

    def all(self) -> list[Token]:
        """Every token there ever was, the newest first."""
        with self._session.reading() as on:
            return [Token(*row) for row in on.execute(select(*_COLUMNS).order_by(_T.id.desc()))]

    def withdraw(self, id: int) -> None:
        """From now on a token is refused. Raises NotFound."""
        with self._session.writing() as on:
            of_token = update(_T).where(_T.id == id)
            if not on.execute(of_token.values(withdrawn_at=now()).where(_T.withdrawn_at.is_(None))).rowcount:
                raise NotFound("Pick one of the tokens that are not withdrawn yet")

    def refusal(self, token: str) -> str:
        """Why a token is refused; "" where it is good. That it is used is noted, once an hour."""
        with self._session.reading() as on:
            row = on.execute(select(*_COLUMNS).where(_T.digest == _digest(token))).one_or_none()
        if row is None:
            return "This token wasn't made here"
        known = Token(*row)
        if known.standing != "good":
            return f"This token is {known.standing}"
        if known.used is None or now() - known.used > _SEEN_EVERY:
            with self._session.writing() as on:
                on.execute(update(_T).where(_T.id == known.id).values(used=now()))
        return ""


def _digest(token: str) -> str:
    return sha256(token.encode("utf-8", "replace")).hexdigest()
