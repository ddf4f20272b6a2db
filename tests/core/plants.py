"""Every method whose instrument is a virtual machine of the plant."""

from __future__ import annotations

from tests.core import massflows

EVERY = {**massflows.SPECS}
#: by method: (name, parameters, faults) of jobs that are kept
KEPT = {
    "massflow_zero": (
        ("good", {}, {}),
        ("moved", {}, {"zero": 4.0}),
        ("leak", {}, {"leak": 6.0}),
        ("gas", {}, {"gas_percent": 1.0}),
        ("crosstalk", {}, {"beat": 3.0}),
        ("coated", {}, {"coated_percent": 3.0}),
        ("always", {"school": "always"}, {"zero": 0.3}),
    ),
    "massflow_prove": (
        ("good", {}, {}),
        ("factor", {}, {"factor_percent": 0.6}),
        ("reference", {}, {"reference_percent": 0.8}),
        ("differ", {"runs": "3"}, {"scatter_percent": 0.2}),
    ),
}
