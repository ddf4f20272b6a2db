"""Methods in which the air is proven before oxygen is set, and every alarm is told.

What is read comes before bypass: as long as a low alarm may be real, nothing takes it away.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import CHANGING
from calibration.engine.method.method import Condition, Field, Method, Step
from calibration.families.gas import airproof, alarms, at_rest, pumped
from calibration.families.gas import parts as gas
from calibration.families.gas.conditions import TO_BE_SET, both
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import bottled, shows
from calibration.families.gas.words import GasRole, GasSet

BOTTLE = GasRole(
    id="proof_gas",
    label="Bottled air",
    quantity="gas",
    purpose="proof",
    instead="Prove the air by another instrument",
)


def doubtful(job: Reads, step: Step) -> bool:
    """Tell whether the air is to be proven: it reads poor or rich, or something is to be set."""
    if bottled(job.ledger):
        return False
    if job.chosen() in CHANGING or job.settings.always_adjust:
        return True
    taken = job.ledger.readings["as_found"].get(0)
    if taken is None or not channels(job.ledger.facts):
        return False
    return not airproof.good(job.ledger, shows(job.facts_of("as_found"), taken.content))


WITH_BOTTLE = Condition(lambda job, step: bottled(job.ledger), "only with bottled air")
AIR_PROOF = Step(
    id=airproof.PROOF,
    stage="found",
    kind="record",
    title="Is the air poor, or the sensor?",
    instruction="Read another proven instrument in the same air, at the height of the detector.",
    why="Poor air and a weak sensor read alike. Set in poor air it would warn far too late.",
    caution="Too little oxygen gives no warning to the senses. Read from outside inwards, leave if "
    "it is low, and follow the site's alarm procedure.",
    part="environment",
    fields=(
        Field(
            id=airproof.INSTRUMENT,
            label="Other instrument in the same air",
            hint="in date, right in a second gas today",
        ),
        Field(id=airproof.READS, label="Oxygen that it reads there", kind="number", unit="% vol"),
    ),
    only_if=Condition(doubtful, "only if the air is in doubt"),
    if_not="The air cannot be proven here",
)
PLACE = Step(
    id=airproof.PLACE,
    stage="identify",
    kind="record",
    title="Place, and the other instrument",
    instruction="Choose a place with clean air, upwind, and read a proven instrument there.",
    why="What is zeroed or set in air is as good as that air.",
    part="environment",
    fields=(
        Field(
            id="place",
            label="Place",
            hint="outdoors, upwind of what",
            barred="Nobody knows what oxygen reads in air of an unknown place.",
        ),
        Field(
            id=airproof.INSTRUMENT,
            label="Other instrument, in date",
            required=False,
            hint="without one nothing is set in air",
        ),
        Field(
            id="temperature", label="Temperature", kind="number", unit="°C", required=False,
            hint="counts with humidity: humid air holds less oxygen",
        ),
        Field(id="humidity", label="Relative humidity", kind="number", unit="%", required=False),
    ),
)  # fmt: skip
_ADAPTER_WANTED = Condition(
    lambda job, step: bottled(job.ledger) or job.settings.says_yes("nitrogen_zero"),
    "only if a gas is opened",
)


_AROUND = Condition(lambda job, step: not bottled(job.ledger), "")
_BOTTLED_SET = GasSet(
    id="span_proof",
    stage="adjust",
    kind="gas_set",
    title="Set span in bottled air",
    instruction="Set it to what the bottle holds, when it is steady.",
    why="The bottle is proven; the air around is not.",
    only_if=both(TO_BE_SET, WITH_BOTTLE),
    end="span",
    gas="proof",
)


def _oxygen(method: Method) -> Method:
    """Return the method of an oxygen detector with the air proven, bottled or beside."""
    by = {s.id: s for s in method.steps}
    found = replace(
        by["as_found"],
        stage="safe",
        instruction="Read it in the air around, as it stands.",
        caution="Below 20.4 the air may be poor: do not enter before it is disproven. A low alarm "
        "that stands is live until then.",
    )
    proof = replace(AIR_PROOF, stage="safe")
    in_bottle = replace(
        gas.found(id="as_found_proof", instruction="Apply bottled air and read it."),
        title="In bottled air",
        together=None,
        only_if=WITH_BOTTLE,
    )
    left_bottle = replace(
        gas.left(),
        id="as_left_proof",
        run="as_left_proof",
        title="As left, in bottled air",
        only_if=both(gas.left().only_if or WITH_BOTTLE, WITH_BOTTLE),
    )
    steps: list[Step] = []
    for step in method.steps:
        if step.id == "kit":
            step = replace(step, roles=(BOTTLE, *step.roles))
        if step.id == "bypass":
            steps += [by["ambient"], found, proof]
        if step.id in ("as_found", "ambient"):
            continue
        if step.id in ("adapter", "adapter_off"):
            step = replace(step, only_if=_ADAPTER_WANTED)
        if step.id == "as_found_n2":
            steps.append(in_bottle)
        if step.id == "span":
            step = replace(step, only_if=both(TO_BE_SET, _AROUND))
        if step.id == "adapter_off":
            steps += [_BOTTLED_SET, left_bottle]
        steps.append(step)
    runs = (
        *method.runs,
        replace(gas.run("as_found_n2", "In bottled air", "proof"), id="as_found_proof"),
        replace(
            gas.run("as_left", "As left, in bottled air", "proof"), id="as_left_proof", again=""
        ),
    )
    return replace(method, steps=tuple(steps), runs=runs)


def _placed(method: Method) -> Method:
    """Return the method of a portable with its place, and the instrument beside it."""
    steps: list[Step] = []
    for step in method.steps:
        if step.id == pumped.AIR.id:
            steps.append(PLACE)
        steps.append(step)
    return replace(method, steps=tuple(steps))


def _newest(methods: tuple[Method, ...]) -> dict[str, Method]:
    return {m.id: m for m in methods}


_BEFORE = _newest((*at_rest.METHODS, *pumped.METHODS))
METHODS = tuple(
    alarms.told(replace(method, version=method.version + 1), seldom=method.rounds)
    for method in (
        _BEFORE["gas_bump"],
        _BEFORE["gas_zero_span"],
        _BEFORE["gas_infrared"],
        _oxygen(_BEFORE["gas_oxygen"]),
        _BEFORE["gas_two_channel"],
        _placed(_BEFORE["gas_portable"]),
        _placed(_BEFORE["gas_receiving"]),
    )
)
