"""Figures of parts: what cable is bought longer by, staples, plates that are made, pieces of wire.

Source: NFPA 70 (NEC) 300.4, 300.14, 334.30, from memory of the publication; the rest is common practice.
"""

from __future__ import annotations

from ..model.figure import IN_PRACTICE, Figure, every_nec

CABLE_SPARE = Figure("0.15", "share", "Cable bought longer than its run by", IN_PRACTICE)
END_SPARE = Figure("18", "in", "And by, at each end", IN_PRACTICE)
STAPLE_STEP = Figure("54", "in", "A staple at least every", every_nec("334.30"))
STAPLE_FROM_BOX = Figure("8", "in", "The first staple from a box without clamps, at most", every_nec("334.30"))
NEAR_FACE = Figure("1 1/4", "in", "A nail plate where a hole is nearer to the face than", every_nec("300.4(A)(1)"))
PIGTAIL = Figure("6", "in", "A pigtail is cut at least", every_nec("300.14"))
OPENINGS_ALIKE = Figure("2", "", "A plate is commonly made with so many kinds of openings at most", IN_PRACTICE)
MIXED_UP_TO = Figure("3", "", "A plate with openings of two kinds is commonly made up to so many gangs", IN_PRACTICE)
PLATES_UP_TO = Figure("6", "", "A plate is commonly made up to so many gangs", IN_PRACTICE)
TORQUE_FROM = Figure("12", "lb·in", "Screws where the sheet gives no figure, commonly from", IN_PRACTICE)
TORQUE_TO = Figure("18", "lb·in", "The same, to", IN_PRACTICE)
LEAD_BEFORE = Figure("1978", "", "Paint may hold lead in houses built before", IN_PRACTICE)
