"""What can be chosen, in the words people see: one place for every choice a form offers.

The values are the model's own; the words beside them are what a form shows. A choice of the model without words here
fails a test, so that no form lacks it.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..model import (
    box,
    channel,
    conductor,
    contents,
    datasheet,
    enclosure,
    house,
    job,
    load,
    panel,
    prices,
    run,
    splice,
    stock,
    survey,
    tick,
    wire,
    wish,
)

Words = Mapping[str, str]

CHOICES: Mapping[str, tuple[Any, Words]] = {
    "material": (
        enclosure.Enclosure.model_fields["material"].annotation,
        {"nonmetallic": "nonmetallic", "metal": "metal"},
    ),
    "material at length": (
        enclosure.Enclosure.model_fields["material"].annotation,
        {"nonmetallic": "Plastic or other nonmetallic", "metal": "Metal"},
    ),
    "tick": (
        survey.TestName,
        {
            "tester before": "Tester proven live",
            "box dead": "Box tested: dead",
            "tester after": "Tester proven again",
        },
    ),
    "connector size": (
        splice.Connector.model_fields["size"].annotation,
        {"small": "small", "medium": "medium", "large": "large"},
    ),
    "stays": (
        wish.Stays,
        {
            "nothing": "nothing",
            "the plate": "the plate",
            "the fitting": "the fixture",
            "both": "the plate and the fixture",
        },
    ),
    "cable work": (
        box.CableWork,
        {
            "stays": "stays",
            "comes out": "comes out",
            "new": "is new",
            "lands here": "ended elsewhere, and ends here now",
        },
    ),
    "goes to": (
        run.To,
        {
            "": "not known",
            "circuit": "the panel",
            "box": "another box, or an outlet",
            "onward": "the next box, out of this job",
            "words": "something else, in words",
        },
    ),
    "use": (
        box.Use,
        {
            "control": "switches and controls",
            "luminaire": "a luminaire",
            "fan": "a fan",
            "receptacle": "a receptacle",
            "junction": "joining only",
        },
    ),
    "run": (wire.Passage, {"ends": "ends or is spliced", "through": "runs through", "looped": "is looped unbroken"}),
    "side": (wire.Side, {"top": "the top", "bottom": "the bottom", "left": "the left", "right": "the right"}),
    "metal": (wire.Cable.model_fields["metal"].annotation, {"copper": "copper", "aluminum": "aluminum"}),
    "condition": (wire.Condition, {"sound": "sound", "brittle": "brittle", "nicked": "nicked"}),
    "lights": (
        load.Load.model_fields["lights"].annotation,
        {
            "": "nothing the code asks for",
            "required light": "what the code asks a light for",
            "stairs": "a stair",
        },
    ),
    "control": (
        contents.Module.model_fields["control"].annotation,
        {"wired": "something wired", "battery only": "a battery control only"},
    ),
    "listing": (contents.Listing, {"modified": "modified by somebody", "none": "no listing mark on it"}),
    "neutral": (
        datasheet.Datasheet.model_fields["neutral"].annotation,
        {"needed": "needed", "not needed": "not needed", "uses the ground": "uses the ground instead"},
    ),
    "derating": (
        datasheet.Derating,
        {
            "not stated": "nothing",
            "by position": "figures by position",
            "by number": "figures by number ganged",
            "none needed": "no derating needed",
        },
    ),
    "phase": (
        datasheet.Datasheet.model_fields["phase"].annotation,
        {"forward": "forward phase", "reverse": "reverse phase", "either": "either"},
    ),
    "places": (
        datasheet.Datasheet.model_fields["places"].annotation,
        {"one": "one place", "several": "several places"},
    ),
    "end": (
        datasheet.Datasheet.model_fields["end"].annotation,
        {"line end": "the line end", "load end": "the load end", "either": "either end"},
    ),
    "input": (
        datasheet.Datasheet.model_fields["input"].annotation,
        {"mains": "line voltage", "dry": "dry contact", "low voltage": "low voltage"},
    ),
    "mixing": (
        channel.Mixing,
        {
            "fractions add": "not known: their shares add",
            "not allowed": "not allowed",
            "own table": "by its own table:",
        },
    ),
    "module counting": (
        job.ModuleCounting,
        {
            "larger": "as a device or by its body, whichever is more",
            "device": "as a device",
            "body": "by its body",
            "none": "as nothing",
        },
    ),
    "prove": (
        house.Prove,
        {"plate off": "folded in, with the plate off", "device out": "before folding in", "closed": "all closed"},
    ),
    "serves": (
        panel.Serves,
        {"one load": "one load at both legs", "multiwire": "two sides, multiwire"},
    ),
    "supply": (panel.Supply, {"mains": "the utility", "inverter": "an inverter or a battery"}),
    "breaker kind": (
        panel.BreakerKind,
        {
            "plain": "too much current only",
            "AFCI": "arcs too (AFCI)",
            "GFCI": "ground faults too (GFCI)",
            "both": "arcs and ground faults",
        },
    ),
    "half": (panel.Half, {"": "the whole", "a": "upper half", "b": "lower half"}),
    "wall": (
        survey.Wall,
        {
            "noncombustible": "noncombustible: plaster, drywall, tile",
            "combustible": "combustible: wood, panel",
        },
    ),
    "ground way": (
        survey.GroundWay,
        {
            "plate": "nonmetallic plate and screws",
            "yoke": "nonmetallic yoke",
            "GFCI": "GFCI ahead of it",
            "sheath": "armor or conduit, proven to be the ground",
        },
    ),
    "cable kind": (
        wire.CableKind,
        {"sheathed": "a jacket", "armored": "armor", "conduit": "conduit"},
    ),
    "fitting": (
        load.Fitting,
        {"retrofit": "a lamp in place of another", "luminaire": "a luminaire with its driver"},
    ),
    "holes": (survey.Holes, {"sound": "Sound", "stripped": "Stripped", "broken": "Broken"}),
    "stock kind": (
        stock.StockKind,
        {"old work": "for old work", "new work": "for new work", "extension": "an extension"},
    ),
    "built": (
        survey.WallBuild,
        {"board": "Of board", "lath": "Plaster on lath", "masonry": "Masonry", "tile": "Tile that stays whole"},
    ),
    "mounted": (
        survey.Mounted,
        {
            "flush": "Flush in a finished wall",
            "may stand proud": "Flush, and work on the wall is fine here",
            "surface": "On the surface",
            "open behind": "Flush, and I reach it from above or behind",
        },
    ),
    "plaster": (survey.Plaster, {"clear": "Clear", "to clear": "Needs cleaning out"}),
    "terminal": (
        conductor.Terminal,
        {
            "common": "odd one (common)",
            "other": "another one",
            "line": "marked line",
            "load": "marked load",
            "neutral": "marked neutral",
        },
    ),
    "reading": (
        conductor.ReadingKind,
        {"volts": "volts", "continuity": "continuity", "tester": "non-contact tester"},
    ),
    "to": (
        conductor.To,
        {
            "ground": "ground",
            "neutral": "a point proven neutral",
            "lead": "ground of an extension lead",
            "hot": "a point proven hot",
            "panel hot": "hot of the circuit, lifted in the panel",
            "panel neutral": "neutral of the circuit, lifted in the panel",
            "lamp center": "center of the lampholder, live lead of the fixture",
            "lamp shell": "shell of the lampholder, neutral lead of the fixture",
            "next hot": "hot at the next place",
            "next neutral": "neutral at the next place",
            "free end": "its other end, lying free",
        },
    ),
    "lamps": (
        conductor.Lamps,
        {
            "not said": "not looked at",
            "in": "in, all of them",
            "out": "out, all of them",
            "cannot come out": "cannot come out",
        },
    ),
    "others": (
        conductor.Others,
        {"as found": "left alone", "no change": "flipped, no change", "change": "flipped, it changed"},
    ),
    "meter": (conductor.Meter, {"loaded": "loaded", "high impedance": "high impedance"}),
    "part tick": (
        tick.PartTick,
        {
            "bought": "bought",
            "loaded": "loaded",
            "used": "put in",
            "returned": "given back",
            "unpacked": "opened, all there but the parts noted",
        },
    ),
    "role": (
        conductor.Role,
        {
            "line": "line hot",
            "neutral": "neutral",
            "switched": "switch leg",
            "traveler": "traveler",
            "onward": "hot to the next box",
            "unused": "not in use",
        },
    ),
    "kind of work": (
        prices.MoveKind,
        {
            "order": "Put the devices in a better order",
            "device": "Put in another device",
            "lamp": "Change a lamp",
            "bypass": "Put a bypass at the lamp",
            "cable out": "Take an unused cable out, at both ends",
            "clamps outside": "Put cable connectors outside the box",
            "setting": "Change a setting of the device",
            "main to the other end": "Change places with the companion",
            "one yoke": "Put two controls on one yoke",
            "remote": "Put a remote on the wall in place of a companion",
            "module to the outlet": "Move a module to the fixture’s box",
            "module behind": "Put a module behind the switch",
            "splice moved": "Move a splice to another box",
            "extension": "Put on an extension ring",
            "deeper box": "Put in a deeper box",
            "wider box": "Put in a wider box",
            "new cable": "Pull a new cable",
            "other place": "Change places with a device elsewhere",
            "split load": "Split the lamps over two devices",
            "module at the fixture": "Put a module at the fixture",
        },
    ),
}
"""Each choice by its name: the type of the model, and the words for its values in the order a form shows them."""


def choices(name: str, first: str | None = None) -> list[tuple[str, str]]:
    """The options of a choice, value and words.

    Args:
        first: words for an empty choice, put first; None: something must be picked.

    >>> choices("meter", "not known")
    [('', 'not known'), ('loaded', 'loaded'), ('high impedance', 'high impedance')]
    """
    nothing = [] if first is None else [("", first)]
    return [*nothing, *CHOICES[name][1].items()]
