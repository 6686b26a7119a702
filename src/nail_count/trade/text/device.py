"""The words for a device or module beside its kind and its loads, in a few words each."""

from __future__ import annotations

from collections.abc import Mapping

from ..model.box import Device, Equipment
from ..model.contents import Listing
from ..model.load import KIND_WORDS


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
