"""Lead lines through channels beside, above and below things that stand in columns, never through the things.

A net is a line from one place to another, or several that share a way. Each channel has tracks side by side; two nets
share a track where they lie apart along the channel.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import dataclass, field

TRACK = 7.0
"""From one track to the next [units of the drawing]."""
MARGIN = 8.0
"""From the edge of a channel to its first track."""

Net = Hashable
Channel = Hashable


@dataclass(slots=True)
class Tracks:
    """The tracks of every channel, as they are taken."""

    _spans: dict[Channel, dict[Net, tuple[float, float]]] = field(default_factory=dict)
    _found: dict[Channel, Mapping[Net, int]] = field(default_factory=dict)

    def take(self, channel: Channel, net: Net, start: float, end: float) -> None:
        """Note that a net runs along a channel, from one ordinal place to another."""
        spans = self._spans.setdefault(channel, {})
        low, high = spans.get(net, (start, start))
        spans[net] = min(low, start, end), max(high, start, end)

    def of(self, channel: Channel) -> Mapping[Net, int]:
        """Return the track of each net of a channel, from 0."""
        if channel not in self._found:
            self._found[channel] = assigned(self._spans.get(channel, {}))
        return self._found[channel]

    def width(self, channel: Channel, least: float = 0.0) -> float:
        """Return how wide a channel is."""
        tracks = self.of(channel)
        return max(least, 2 * MARGIN + TRACK * (max(tracks.values()) if tracks else 0))

    def offset(self, channel: Channel, net: Net) -> float:
        """Return how far from the edge of its channel a net runs."""
        return MARGIN + TRACK * self.of(channel)[net]


def assigned(spans: Mapping[Net, tuple[float, float]]) -> dict[Net, int]:
    """Assign tracks, each the first that is free along the whole span.

    Nets that come in at the near end turn off one after the other, and those at the far end likewise, so that none
    crosses another on its way out.

    >>> sorted(assigned({"a": (0, 3), "b": (2, 5), "c": (4, 6)}).items())
    [('a', 0), ('b', 1), ('c', 0)]
    """
    taken: list[list[tuple[float, float]]] = []
    tracks: dict[Net, int] = {}
    for net, (low, high) in sorted(spans.items(), key=lambda item: _turns_off(*item[1])):
        free = (at for at, row in enumerate(taken) if all(high < start or end < low for start, end in row))
        track = next(free, len(taken))
        if track == len(taken):
            taken.append([])
        taken[track].append((low, high))
        tracks[net] = track
    return tracks


def _turns_off(low: float, high: float) -> tuple[int, float]:
    return (0, high) if low < 0 else (1, -low)
