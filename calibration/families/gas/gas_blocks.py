"""What a screen says of a gas that is to be opened, or is open: cylinder, flow, amount, time."""

from __future__ import annotations

from calibration.engine.view.blocks import Block, Row
from calibration.families.gas.state import GasState


def cylinder_rows(gas: GasState) -> Block:
    """Return which cylinder, at which flow, and how much is left of it."""
    rows = (
        Row(label="Cylinder", value=f"{gas.cylinder}, {gas.contents}"),
        Row(label="Flow", value=f"{gas.flow}, about {gas.minutes} min", strong=True),
        Row(label="Gas left", value=f"{gas.left}; this job still takes up to {gas.needed}"),
    )
    return Block(kind="rows", rows=rows)


def time_of_gas(gas: GasState) -> Block:
    """Return how long the gas still has to be on."""
    return Block(
        kind="timer",
        title=f"until {gas.minutes} min of gas are over",
        text="long enough: read it now",
        ends_at=gas.ready_at,
    )
