"""Draw the icons a phone shows for the installed application from their SVG: python tools/icons.py."""

from __future__ import annotations

from pathlib import Path

import resvg_py

STATIC = Path(__file__).parent.parent / "src/nail_count/web/static"


def main() -> None:
    """Draw one in each size that phones ask for [px]."""
    for size in (180, 512):
        drawn = resvg_py.svg_to_bytes(svg_path=str(STATIC / "icon.svg"), width=size, height=size)
        (STATIC / f"icon-{size}.png").write_bytes(bytes(drawn))


if __name__ == "__main__":
    main()
