"""The words for a device or module beside its kind and its loads, in a few words each."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..model.box import Device, Equipment
from ..model.contents import Listing
from ..model.datasheet import Datasheet
from ..model.load import KIND_WORDS


def item_name(item: Equipment, among: Sequence[Equipment], sheets: Mapping[str, Datasheet]) -> str:
    """Return what a device of a box is called: its own name, else its sheet's, with its gang where two are called so.

    Args:
        among: all that is in the box.
        sheets: the sheets they name, by id.

    >>> sheets = {"x": Datasheet(id="x", name="Smart dimmer", kind="dimmer")}
    >>> two = [Device(id=f"d{gang}", gang=gang, sheet="x") for gang in (1, 2)]
    >>> item_name(two[1], two, sheets), item_name(two[1], two[1:], sheets)
    ('Smart dimmer in gang 2', 'Smart dimmer')
    """
    names = [one.name or sheets[one.sheet].name for one in among]
    name = item.name or sheets[item.sheet].name
    return f"{name} in gang {item.gang}" if isinstance(item, Device) and names.count(name) > 1 else name


def equipment_words(item: Equipment) -> list[str]:
    """Its conductor, its circuit, its listing, its setting, its place, its switch.

    >>> equipment_words(Device.model_validate({"id": "d1", "gang": 1, "sheet": "x", "gauge": 14, "circuit": "7"}))
    ['14 AWG on it', 'fed by circuit 7']
    """
    words = [f"{item.gauge} on it"] if item.gauge else []
    words += [f"fed by circuit {item.circuit}"] if item.circuit else []
    if isinstance(item, Device):
        words += [f"reused, broken off {' and '.join(item.broken)}"] if item.broken else []
        words += [f"set to {KIND_WORDS[item.lamp_setting]}"] if item.lamp_setting else []
    else:
        words += [f"behind gang {item.gang}"] if item.gang else []
        words += [f"switched by {item.control}"] if item.control else []
    words += [LISTING[item.listing]] if item.listing else []
    return words


LISTING: Mapping[Listing, str] = {"modified": "modified", "none": "no listing mark"}
