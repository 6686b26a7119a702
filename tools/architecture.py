"""Draw docs/architecture.svg from the imports: each room of the house, what it is for, and which rooms it may ask.

python tools/architecture.py            write the picture anew
python tools/architecture.py --check    say whether it is what the imports give
"""

from __future__ import annotations

import ast
import sys
from html import escape
from pathlib import Path
from textwrap import wrap

import grimp
import networkx as nx

ROOT = Path(__file__).parent.parent
PICTURE = ROOT / "docs" / "architecture.svg"
WIDE, HIGH, ACROSS, DOWN = 200, 78, 20, 40
"""A room, and the gaps between rooms [px]."""


def rooms() -> nx.DiGraph[str]:
    """Return the rooms, each pointing to those it imports from: packages, and the packages of the trade."""
    graph: nx.DiGraph[str] = nx.DiGraph()
    imports = grimp.build_graph("nail_count")
    for module in imports.modules:
        here = room_of(module)
        if here is None:
            continue
        graph.add_node(here)
        for other in imports.find_modules_directly_imported_by(module):
            there = room_of(other)
            if there not in (None, here):
                graph.add_edge(here, there)
    return graph


def room_of(module: str) -> str | None:
    """Return the room a module is in; None for the package itself and for the trade’s own."""
    steps = module.split(".")[1:]
    if steps[:1] == ["trade"]:
        return "/".join(steps[:2]) if len(steps) > 1 else None
    return steps[0] if steps else None


def told(room: str) -> str:
    """Return the first sentence of what a room says it is for."""
    at = ROOT / "src" / "nail_count" / room
    file = at / "__init__.py" if at.is_dir() else at.with_suffix(".py")
    said = ast.get_docstring(ast.parse(file.read_text(encoding="utf-8"))) or ""
    return said.split("\n\n")[0].replace("\n", " ").split(". ")[0].rstrip(".")


def drawn() -> str:
    """Return the picture: what asks stands above what is asked; lines that follow from others are left out."""
    graph = rooms()
    assert nx.is_directed_acyclic_graph(graph), "expected no room to reach back up"
    floors = list(nx.topological_generations(graph))
    at: dict[str, tuple[int, int]] = {}
    widest = max(map(len, floors))
    for level, floor in enumerate(floors):
        start = (widest - len(floor)) * (WIDE + ACROSS) // 2
        for number, room in enumerate(sorted(floor)):
            at[room] = (ACROSS + start + number * (WIDE + ACROSS), DOWN // 2 + level * (HIGH + DOWN))
    width, height = widest * (WIDE + ACROSS) + ACROSS, len(floors) * (HIGH + DOWN)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" role="img" '
        'font-family="sans-serif" font-size="11">',
        "<title>The rooms of the code: each asks only those below it</title>",
        f'<rect width="{width}" height="{height}" fill="#fffdf8"/>',
    ]
    for one, other in sorted(nx.transitive_reduction(graph).edges):
        (x, y), (to_x, to_y) = at[one], at[other]
        parts.append(f'<path d="M{x + WIDE // 2} {y + HIGH}L{to_x + WIDE // 2} {to_y}" stroke="#857c6b" fill="none"/>')
    for room, (x, y) in sorted(at.items()):
        parts.append(f'<rect x="{x}" y="{y}" width="{WIDE}" height="{HIGH}" rx="4" fill="#f3f0e8" stroke="#1b2024"/>')
        parts.append(f'<text x="{x + 8}" y="{y + 17}" font-weight="bold" font-size="13">{escape(room)}</text>')
        for number, line in enumerate(wrap(told(room), 31)[:4]):
            parts.append(f'<text x="{x + 8}" y="{y + 32 + 12 * number}">{escape(line)}</text>')
    return "\n".join((*parts, "</svg>")) + "\n"


def main() -> int:
    """Write the picture, or say whether it is stale; 1 where it is."""
    if "--check" not in sys.argv:
        PICTURE.write_text(drawn(), encoding="utf-8")
        return 0
    if PICTURE.read_text(encoding="utf-8") == drawn():
        return 0
    print("docs/architecture.svg is stale: run 'python tools/architecture.py' and commit it", file=sys.stderr)
    return 1


if __name__ == "__main__":
    raise SystemExit(main())
