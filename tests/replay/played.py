"""Visits that are kept: each method with a good instrument and with things to find."""

from __future__ import annotations

import calibration.families  # noqa: F401  # registers them
from calibration.engine.method.family import newest
from tests.core.detectors import GasVisit
from tests.core.electrodes import PhVisit
from tests.core.families import Visit
from tests.core.gcs import GcVisit
from tests.core.mixtures import MixVisit
from tests.core.plant import PlantVisit
from tests.core.planted_gas import around, methane
from tests.core.plants import EVERY, KEPT
from tests.core.traces import TraceVisit

YES, NO = ({"value": word, "source": "site rule"} for word in ("yes", "no"))
ALWAYS = {"school": {"value": "always", "source": "site rule"}}
GUARDED = {"decision_rule": {"value": "guarded", "source": "site rule"}}
DAMPED = {"sensor_zero_percent": 0.9, "damping_s": 1.6}
ANOTHER = {"input_lower": "0", "input_upper": "30"}, {"lower": 0.0, "upper": 30.0}
#: by method: (name, family, parameters, facts, faults)
TRANSMITTERS = {
    "pressure_transmitter": (
        ("good", "smart_transmitter", {}, {"smart": False}, {}),
        ("output out", "smart_transmitter", {}, {}, {"output_zero_percent": 0.9}),
        ("sticks", "smart_transmitter", GUARDED, {}, {"hysteresis_percent": 1.6}),
        ("always trimmed", "smart_transmitter", ALWAYS, {"indicated": False}, {}),
    ),
    "smart_transmitter": (
        ("good", "smart_transmitter", {"loop_check": NO}, {}, {}),
        (
            "sensor out, damped",
            "smart_transmitter",
            {},
            {},
            {"sensor_zero_percent": 0.9, "damping_s": 1.6},
        ),
        ("another range", "smart_transmitter", {}, {}, {"set_upper": 3500.0}),
        ("receiver", "smart_transmitter", {}, {}, {"receiver_span_percent": 3.0}),
        ("held", "smart_transmitter", {}, {}, {"fault": "inhibit", "fixed_output": 2.0}),
    ),
    "smart_rerange": (
        ("good", "smart_transmitter", {}, {}, {}),
        ("outside at the new range", "smart_transmitter", {}, {}, {"output_span_percent": 2.0}),
    ),
    "temperature_sensor": (
        ("good platinum", "pt100_sensor", {}, {}, {}),
        ("off by far", "pt100_sensor", {}, {}, {"offset_c": 2.5}),
        ("good couple", "type_k_sensor", {}, {}, {}),
        ("another couple", "type_k_sensor", {}, {}, {"actual": "N"}),
        ("lead", "pt100_sensor", GUARDED, {"wires": 2}, {"lead_ohm": 1.5}),
    ),
    "temperature_transmitter": (
        ("good", "pt100_transmitter", {}, {}, {}),
        ("output out", "pt100_transmitter", {}, {}, {"output_zero_percent": 0.8}),
        ("another couple set", "type_k_transmitter", {}, {}, {"sensor_set": "J"}),
    ),
    "temperature_loop": (
        ("good", "temperature_loop", {}, {}, {}),
        ("output out", "temperature_loop", {}, {}, {"output_span_percent": 1.5}),
        ("always", "temperature_loop", ALWAYS, {}, {"offset_c": 0.2}),
    ),
    "displacer_level": (
        ("good", "displacer", {}, {}, {}),
        ("screws", "displacer", {}, {}, {"output_zero_percent": 2.0, "output_span_percent": -4.0}),
        ("sticks in liquid", "displacer", {}, {}, {"friction_percent": 3.5}),
        ("without liquid", "displacer", {"wet_run": NO}, {}, {"output_zero_percent": 1.3}),
    ),
    "dp_level": (
        ("good", "dp_level", {}, {}, {}),
        ("sensor out", "dp_level", {}, {}, {"sensor_zero_percent": -1.0}),
        (
            "range of another vessel",
            "dp_level",
            {},
            {"input_lower": "0", "input_upper": "30"},
            {"lower": 0.0, "upper": 30.0},
        ),
    ),
    "dp_flow": (
        ("root in transmitter", "flow_root_in_transmitter", {}, {}, {"output_span_percent": 1.5}),
        ("root in receiver", "flow_root_in_receiver", {}, {}, {}),
        ("root twice", "flow_root_in_receiver", {}, {}, {"characteristic": "square_root"}),
        ("root missing", "flow_root_in_transmitter", {}, {}, {"characteristic": "linear"}),
    ),
}
#: by method: (name, parameters, changes of a head, other faults)
DETECTORS = {
    "gas_bump": (
        ("good", {}, {}, None),
        ("weak", {}, {"response": 0.5}, None),
        ("slow", {}, {"plugged": 0.45, "response": 1.2}, None),
    ),
    "gas_zero_span": (
        ("good", {}, {}, None),
        ("moved", {}, {"response": 0.8, "zero": 4.0}, None),
        ("dead", {}, {"response": 0.1}, None),
        ("another cylinder", {}, {}, lambda v: v.person.bottles.update(span_gas=methane(25.0))),
        ("gas around", {}, {}, lambda v: around(v, 5.0)),
    ),
    "gas_infrared": (
        ("good", {}, {}, None),
        ("moved", {}, {"zero": 5.0}, None),
        ("always", ALWAYS, {}, None),
    ),
    "gas_oxygen": (
        ("good", {}, {}, None),
        ("moved", {}, {"response": 0.9}, None),
        ("nitrogen", {"nitrogen_zero": YES}, {"zero": 4.0}, None),
    ),
    "gas_two_channel": (
        ("good", {}, {}, None),
        ("moved", {}, {"response": 0.75}, None),
        ("voltage", {}, {"gas_value": 20.0}, None),
    ),
    "gas_head": (
        ("good", {}, {}, None),
        ("moved", {}, {"response": 0.8, "zero": 4.0}, None),
        ("dead", {}, {"response": 0.1}, None),
        ("gas around", {}, {}, lambda v: around(v, 5.0)),
    ),
    "gas_two_heads": (
        ("good", {}, {}, None),
        ("moved", {}, {"response": 0.75}, None),
        ("voltage", {}, {"gas_value": 20.0}, None),
    ),
    "gas_portable": (
        ("good", {}, {}, None),
        ("moved", {}, {"response": 0.75, "zero": 3.0}, None),
        ("always", ALWAYS, {}, None),
    ),
    "gas_receiving": (
        ("good", {}, {}, None),
        ("moved", {}, {"response": 0.8}, None),
    ),
}
#: by method: (name, parameters, faults)
ELECTRODES = {
    "ph_buffers": (
        ("good", {}, {}),
        ("coated", {}, {"tau_s": 60.0}),
        ("aged, three buffers", {"third_buffer": "yes"}, {"slope": 0.88}),
        ("wet plug", {}, {"shunt_mohm": 800.0}),
        ("poisoned", {}, {"reference_mv": 45.0, "drift_mv_per_h": 1.5}),
        ("always", {"school": "always"}, {}),
    ),
    "ph_check": (
        ("good", {}, {}),
        ("temperature", {}, {"sensor_off_c": 7.0}),
        ("earth loop", {}, {"loop_mv": 30.0}),
    ),
}


#: by method: (name, parameters, faults)
TRACES = {
    "trace_oxygen": (
        ("good", {}, {}),
        ("weaker", {}, {"response": 0.86}),
        ("leak", {}, {"leak_ul_min": 6.0}),
        ("air in the regulator", {}, {"bled_before": 0.01}),
        ("another gas", {}, {"gas_ppm": 5.0}),
        ("always", {"school": "always"}, {}),
    ),
    "trace_new_sensor": (
        ("good", {}, {}),
        ("leak", {}, {"leak_ul_min": 16.0}),
        ("output", {}, {"output_span_percent": 6.0}),
    ),
}


#: name, parameters, cell and its changes, other faults
MIXTURES = (
    ("good", {}, 0, {}, {}),
    ("drifted", {}, 1, {"gain": 0.96}, {}),
    ("far off", {}, 1, {"gain": 0.88}, {}),
    ("zero", {}, 2, {"zero": 0.8}, {}),
    ("air drawn in", {}, 0, {}, {"drawn_in": 0.07}),
    ("always", {"school": "always"}, 0, {}, {}),
)


#: name, parameters, component and its changes, other faults
GCS = (
    ("good", {}, 0, {}, {}),
    ("weaker", {}, 0, {}, {"aged_percent": 8.0}),
    ("leak", {}, 0, {}, {"leak_percent": 14.0}),
    ("moisture", {}, 0, {}, {"moisture_percent": 9.0}),
    ("one component", {}, 4, {"response": 0.8}, {}),
    ("spent trap", {}, 0, {}, {"trap_share": 0.4}),
)


def planned(method):
    """Yield the visits of a method by name, each at its start."""
    for name, family, parameters, facts, faults in TRANSMITTERS.get(method, ()):
        visit = Visit(family, parameters=parameters, facts=facts, **faults)
        if visit.method.id != method:
            visit = of_method(method, family, parameters, facts, faults)
        yield name, visit
    for name, parameters, head, other in DETECTORS.get(method, ()):
        visit = GasVisit(method, parameters=parameters).head(**head)
        visit.person.bottles = dict(visit.person.bottles)
        if other:
            other(visit)
        yield name, visit
    for name, parameters, faults in ELECTRODES.get(method, ()):
        yield name, PhVisit(method, parameters=parameters, **faults)
    for name, parameters, faults in TRACES.get(method, ()):
        yield name, TraceVisit(method, parameters=parameters, **faults)
    for name, parameters, cell, changes, faults in (
        MIXTURES if method == "mixture_calibrate" else ()
    ):
        yield name, MixVisit(parameters=parameters, **faults).cell(cell, **changes)
    for name, parameters, place, changes, faults in GCS if method == "gc_calibrate" else ():
        yield name, GcVisit(parameters=parameters, **faults).line(place, **changes)
    for name, parameters, faults in KEPT.get(method, ()):
        yield name, PlantVisit(EVERY[method], parameters=parameters, **faults)


def of_method(method, family, parameters, facts, faults):
    """Return a visit of a family by another method than its own."""

    class Other(Visit):
        def push(self, kind, /, **data):
            self.method = newest(method)
            if kind == "opened":
                data = {**data, "method": method, "version": self.method.version}
            super().push(kind, **data)

    visit = Other(family, parameters=parameters, facts=facts, **faults)
    visit.person.answers = {**visit.person.answers, "new_lower": "0", "new_upper": "2500"}
    return visit
