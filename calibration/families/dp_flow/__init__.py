"""Flow by differential pressure: one root, in the transmitter or in the receiver."""

from __future__ import annotations

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import Fit
from calibration.families.dp_flow.method import DP_FLOW, DP_FLOW_1
from calibration.families.dp_flow.templates import TEMPLATES
from calibration.families.shared.loop import family


def _a_root(facts: InstrumentFacts) -> bool:
    return "square_root" in (facts.characteristic, facts.indicated_characteristic)


FAMILY = family(
    id="flow_by_dp",
    title="Flow by differential pressure",
    methods=(DP_FLOW_1, DP_FLOW),
    templates=TEMPLATES,
    fits=(Fit(DP_FLOW.id, _a_root, "a root is taken in the loop", rank=3),),
)
