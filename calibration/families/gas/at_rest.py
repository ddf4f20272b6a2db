"""Fixed detectors are put back as they were found: menu, selector and jumpers at rest."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.method import Item, Method, Step
from calibration.families.gas import parts as gas
from calibration.families.gas import since, two_channels

AT_REST = Item(id="rest", label="Menu left, selector and jumpers back to rest", must=True)
FLUSHED = Item(id="flushed", label="Flushed with zero gas or clean air after the span gas")


def _restored(step: Step) -> Step:
    if step.id != gas.RESTORE.id:
        return step
    return replace(step, items=(*step.items, FLUSHED, AT_REST))


def at_rest(method: Method) -> Method:
    """Return a method in which what was switched for the check is put back, line by line."""
    steps = tuple(_restored(step) for step in method.steps)
    return replace(method, version=method.version + 1, steps=steps)


METHODS = (
    at_rest(since.GAS_BUMP),
    at_rest(since.GAS_ZERO_SPAN),
    at_rest(since.GAS_INFRARED),
    at_rest(since.GAS_OXYGEN),
    replace(at_rest(two_channels.GAS_TWO_CHANNEL), version=two_channels.GAS_TWO_CHANNEL.version),
)
