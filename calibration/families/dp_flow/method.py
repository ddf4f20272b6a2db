"""Flow by differential pressure: one root, in the transmitter or in the receiver."""

from __future__ import annotations

from calibration.engine.method.method import Item, Method, ParameterSpec
from calibration.families.shared import limits, parts
from calibration.families.shared.pressure import CONNECT, DISCONNECT, PRESSURE
from calibration.families.shared.runs import RUNS

DP_FLOW_1 = Method(
    id="dp_flow",
    version=1,
    title="Flow by differential pressure, square root",
    called="root and points",
    fits="A differential pressure transmitter at an orifice or nozzle; the root is taken once.",
    runs=RUNS,
    steps=(
        parts.kit(PRESSURE, parts.METER, names="the pressure reference and the meter"),
        parts.OPERATOR,
        parts.BYPASS,
        parts.ISOLATE,
        parts.IDENTITY,
        parts.settings(
            parts.LOWER,
            parts.UPPER,
            parts.SHAPE,
            parts.DAMPING,
            what="range and output characteristic",
        ),
        parts.STATE,
        CONNECT,
        parts.AMBIENT,
        parts.WARM_UP,
        parts.DAMPING_OFF,
        parts.as_found(),
        parts.JUDGE,
        parts.WRITE_BACK,
        *parts.adjust("The loop current moves with every write. Only with the loop in manual."),
        DISCONNECT,
        parts.DAMPING_BACK,
        parts.restore(
            Item(id="manifold", label="Manifold: equalized, then opened; zero checked"),
            parts.COVERS,
            parts.SETTINGS,
        ),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(
        ParameterSpec(
            id="spacing",
            label="Points are percent of",
            default="flow",
            kind="choice",
            choices=("flow", "input"),
        ),
        ParameterSpec(
            id="cut_off", label="Low-flow cut-off", default="5", unit="% of flow", most="50"
        ),
        points="0 10 25 50 75 100",
        suspect_percent="8",
        stable_band_percent="0.2",
    ),
    sources=parts.SOURCES + " Flow goes with the root of differential pressure: ISO 5167-1.",
)
DP_FLOW = parts.plainer(DP_FLOW_1)
