"""Every method whose instrument is a virtual machine of the plant."""

from __future__ import annotations

from tests.core import belts, indicators, magmeters, massflows, vessels

EVERY = {
    **massflows.SPECS,
    **vessels.SPECS,
    **indicators.SPECS,
    **belts.SPECS,
    **magmeters.SPECS,
}
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
    "loadcell_weights": (
        ("good", {}, {}),
        ("span", {}, {"span_percent": 0.6}),
        ("pipes", {}, {"pipe_percent": 0.8}),
        ("open", {}, {"open_cell": True}),
        ("lies there", {"corner_test": "no"}, {"build_up_kg": 8.0}),
    ),
    "loadcell_substitution": (
        ("good", {}, {}),
        ("span", {"loads": "4"}, {"span_percent": 0.6}),
    ),
    "loadcell_theoretical": (
        ("good", {}, {}),
        ("span", {}, {"span_percent": 0.6}),
    ),
    "indicator_adjust": (
        ("good", {}, {}),
        ("factor", {}, {"factor_percent": 1.2}),
        ("unit", {}, {"unit": "lb"}),
        ("load", {}, {"load_percent": -0.6}),
        ("lies on it", {}, {"lies_kg": 2.0}),
    ),
    "indicator_check": (("good", {}, {}), ("factor", {}, {"factor_percent": 1.2})),
    "belt_routine": (
        ("good", {}, {}),
        ("zero", {}, {"zero_percent": 0.8}),
        ("build-up", {}, {"build_up_kg_m": 0.5}),
        ("slip", {}, {"slip_percent": 1.5}),
        ("span", {}, {"span_percent": 1.2}),
    ),
    "belt_commission": (("good", {}, {}), ("idler", {}, {"stuck": 120.0})),
    "belt_material": (
        ("good", {}, {}),
        ("span", {"loads": "2"}, {"span_percent": 2.5}),
        ("lost", {}, {"lost_percent": 3.0}),
    ),
    "magmeter_verify": (
        ("good", {}, {}),
        ("shorted", {}, {"shorted_percent": 8.0}),
        ("coated", {}, {"coated": 10.0}),
        ("wire", {}, {"wire_off": True}),
    ),
}
