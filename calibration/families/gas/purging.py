"""How long a detector takes to be clear of gas, for a person who waits with a watch."""

from __future__ import annotations

import math
from datetime import timedelta

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.engine.view.blocks import Block
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import gas_run
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.words import Exposure
from calibration.kernel.numbers import to_float


def purge(job: Reads, step: Step) -> tuple[Block, ...]:
    """Return the countdown until it should be clear of gas; none where no gas was on.

    References
    ----------
    First-order sensor: from its span gas to a share s in t90 / ln 10 × ln(1 / s).
    """
    run, flows = gas_run(job, step), gas_of(job.ledger).flows
    clears = step.clear if isinstance(step, Exposure) else run is not None and run.clear
    if not clears or not flows or flows[-1].off is None:
        return ()
    gases = channels(job.ledger.facts)
    slowest = max(to_float(c.usual_t90_s or c.t90_s) for c in gases)
    share = to_float(job.settings.share("clear_percent"))
    seconds = slowest / math.log(10) * math.log(1 / share)
    ends = flows[-1].off.when + timedelta(seconds=round(seconds))
    return (
        Block(
            kind="timer",
            title="until it should be clear of gas, by its time to 90 %",
            text="it should be clear: read it; one that does not fall may be real gas",
            ends_at=ends.isoformat(),
        ),
    )
