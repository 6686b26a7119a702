"""Labels as they are printed, typed and pasted: invented, in the forms labels have."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.text.label import Label, read_label


@pytest.mark.parametrize(
    ("text", "serial", "code"),
    [
        ("S/N 4K7P21", "4K7P21", ""),
        ("sn:4k7p21", "4k7p21", ""),
        ("Serial No. 00-12 A7", "00-12 A7", ""),
        ("Serial number = X9/4", "X9/4", ""),
        ("Setup code: 1234-567-8901", "", "1234-567-8901"),
        ("SETUP PIN 123 45 678", "", "12345678"),
        ("code 00112", "", "00112"),
        ("QX:Y3.4/0 SN 77 pairing code 5-5", "77", "5-5"),
        ("Model DX10 Serial 88A\nCode 4711\nMAC 00:1A:2B", "88A", "4711"),
        ("Code 4711, S/N 88A, 120 V", "88A", "4711"),
        ("4K7P21", "", ""),
        ("SN-4711", "", ""),
        ("S/N 4711 Made 2026", "4711", ""),
        ("S/N SN-4711", "SN-4711", ""),
        ("PIN-code 12", "", "12"),
        ("", "", ""),
        ("Serial", "", ""),
        ("spinning coder 9", "", ""),
        ("S/N unknown", "", ""),
    ],
)
def test_labels(text: str, serial: str, code: str) -> None:
    assert read_label(text) == Label(serial, code)


TOKENS = st.from_regex(r"[A-Z]{1,2}[0-9]{2,6}", fullmatch=True)


@given(TOKENS, TOKENS, st.sampled_from((", ", "\n", "; ", "  ")), st.booleans())
def test_the_order_of_a_label_changes_nothing(serial: str, code: str, between: str, first: bool) -> None:
    parts = [f"S/N {serial}", f"setup code {code}"]
    assert read_label(between.join(parts if first else parts[::-1])) == Label(serial, code)


@given(st.text(max_size=80))
def test_any_text_is_read(text: str) -> None:
    label = read_label(text)
    assert "".join(label.code.split()) == label.code and all(word in text for word in label.serial.split())
