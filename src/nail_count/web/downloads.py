"""Sends an open file as a download. The file has no name any more, so nothing of it is left once it is closed."""

from __future__ import annotations

import os
from collections.abc import Iterator
from typing import IO
from urllib.parse import quote

from starlette.background import BackgroundTask
from starlette.responses import StreamingResponse

_PIECE = 1 << 18


def download(file: IO[bytes], name: str) -> StreamingResponse:
    """Return an answer that sends a zip file piece by piece and closes it, also where the reader leaves early."""

    def pieces() -> Iterator[bytes]:
        while piece := file.read(_PIECE):
            yield piece

    headers = {
        "content-length": str(os.fstat(file.fileno()).st_size),
        "content-disposition": f"attachment; filename*=UTF-8''{quote(name)}",
    }
    return StreamingResponse(
        pieces(), media_type="application/zip", headers=headers, background=BackgroundTask(file.close)
    )
