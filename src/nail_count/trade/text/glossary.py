"""The trade's words, for people who are new to them: shown on demand, on every screen that uses one."""

WORDS: dict[str, str] = {
    "box": (
        "What the devices and conductors go into. It may be several sections ganged together, and may wear a ring."
    ),
    "gang": "One device width of a box, numbered from the left as seen from the room.",
    "yoke": "The metal piece a device is mounted by. It takes one gang, or more for a wide device.",
    "device": "Anything mounted on a yoke: a switch, dimmer, smart switch, fan control, receptacle.",
    "sheet": "The maker's data for a device: its size, what it may carry, how neighbors lower that.",
    "cable": (
        "What enters the box, named by gauge and insulated conductors: 14/2 is two 14 AWG conductors and a ground."
    ),
    "lead": "A wire that belongs to a device. It starts in the box and is never counted.",
    "pigtail": "A short wire wholly inside the box. It is never counted, and takes room all the same.",
    "allowance": "The volume counted for one thing, from the table of wire sizes.",
    "fill": "The sum of all allowances. Capacity is the volume of the box; the room between them is spare.",
    "trade size": "What a metal box is called by: 4 × 2⅛ square, 3 × 2 × 3½ device. A table gives its volume.",
    "clamps": (
        "What holds the cables inside the box. One or more count as one conductor; outside the box they count nothing."
    ),
    "ring": (
        "A plaster ring, raised cover or extension on the front of the box. It adds room if a volume is marked on it."
    ),
    "set-back": "How far the front of the box stands behind the face of the wall.",
    "ground": "The equipment grounding conductor: bare or green.",
    "neutral": "The grounded conductor, usually white. White alone proves nothing: in a switch loop it is hot.",
    "multiwire": (
        "Two hots on opposite legs of the supply with one neutral between them. Their breakers open together."
    ),
    "tandem": "Two thin breakers in one space of the panel.",
    "side sections": (
        "Fins at the sides of a dimmer that spread its heat. For a neighbor an inner one is broken off, and "
        "the dimmer may carry less."
    ),
    "minimum load": "The least a device needs connected; below it lamps flicker, glow or drop out.",
    "derating": "The cut in a device's rating for where it stands: beside neighbors, or in the warm.",
    "phase": (
        "How a dimmer takes its part out of each half-wave: forward phase from its beginning, reverse phase from its "
        "end. Magnetic transformers want forward, electronic ones reverse."
    ),
    "inrush": "What lamps draw in the instant they are switched on: LED drivers many times their running current.",
    "continuous": "Expected on for three hours or more at a stretch. It counts 125% on a breaker under the NEC.",
    "class 2": (
        "Wires of so little power that they harm nobody, as for 0–10 V dimming or a bell. They stay apart from mains."
    ),
    "standby": "What a smart device takes with everything off: small each, not small in forty.",
    "ambient": "How warm it is around a device. Above what its sheet states it carries less.",
    "AHJ": "The authority having jurisdiction: the inspector's office. It has the last word.",
}
"""Each word, and what it means, in a sentence or two."""
