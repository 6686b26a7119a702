"""What the NEC counts for a conductor in a box.

Source: NFPA 70 (NEC), Table 314.16(B)(1); from memory of the publication, not held against a printed copy.
"""

from ..model.figure import Figure, every_nec, table
from ..model.gauge import Gauge, awg

ALLOWANCES: dict[Gauge, Figure] = table(
    "in3",
    "{}",
    every_nec("Table 314.16(B)(1)"),
    {
        awg(18): "1.50",
        awg(16): "1.75",
        awg(14): "2.00",
        awg(12): "2.25",
        awg(10): "2.50",
        awg(8): "3.00",
        awg(6): "5.00",
    },
)
"""Volume allowance per conductor [in³], Table 314.16(B)(1) (before 2023: Table 314.16(B))."""
