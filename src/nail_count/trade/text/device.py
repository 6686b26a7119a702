"""What is said of a device or module beside what it is and what hangs on it, in a few words each."""

from __future__ import annotations

from ..model.box import Carrier, Device
from ..model.load import KIND_WORDS


def carrier_words(carrier: Carrier) -> list[str]:
    """Its conductor, its circuit, how it came, what is set on it, where it lies, what switches it.

    >>> carrier_words(Device.model_validate({"id": "d1", "gang": 1, "sheet": "x", "gauge": 14, "circuit": "7"}))
    ['14 AWG on it', 'fed by circuit 7']
    """
    words = [f"{carrier.gauge} AWG on it"] if carrier.gauge else []
    words += [f"fed by circuit {carrier.circuit}"] if carrier.circuit else []
    if isinstance(carrier, Device):
        words += [f"reused, broken off {' and '.join(carrier.broken)}"] if carrier.broken else []
        words += [f"set to {KIND_WORDS[carrier.lamp_setting]}"] if carrier.lamp_setting else []
    else:
        words += [f"behind gang {carrier.gang}"] if carrier.gang else []
        words += [f"switched by {carrier.control}"] if carrier.control else []
    return words
