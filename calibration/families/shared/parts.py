"""Steps that several methods share."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.conditions import (
    ADJUSTING,
    DIFFERS,
    LEFT_OUTSIDE,
    TRIMMING,
    to_write,
)
from calibration.engine.method.method import (
    Condition,
    Field,
    Item,
    KitRole,
    Method,
    SetItem,
    Step,
)

SITE_FIRST = (
    "Work under the site's permit and procedure; local code and licensed practice come first."
)
DAMPED = to_write("only if damping was found on")
METER = KitRole(id="meter", label="Meter at the output", quantity="output")


def kit(*roles: KitRole, names: str) -> Step:
    """Return the step that chooses the references."""
    return Step(
        id="kit",
        stage="plan",
        kind="kit",
        title="Choose the references",
        instruction=f"Choose {names} for this job.",
        why="Their accuracy and their own due dates decide what the result is worth.",
        roles=roles,
    )


OPERATOR = Step(
    id="operator",
    stage="safe",
    kind="record",
    part="",
    for_round=True,
    title="Tell the operator",
    instruction="Tell the operator which instrument, what will move, and for how long.",
    why="The control room must know that this value will be wrong.",
    caution=SITE_FIRST,
    fields=(
        Field(id="operator", label="Operator told"),
        Field(id="permit", label="Permit or work order", required=False),
    ),
)
BYPASS = Step(
    id="bypass",
    stage="safe",
    kind="put_on",
    title="Loop in manual, trips in bypass",
    button="Loop is in manual, trips bypassed",
    instruction="Have the operator put the loop in manual and bypass every trip that uses "
    "this value. Confirm when it is done.",
    why="The output is about to swing over the whole range.",
    caution="A loop left in automatic follows the test signal: valves move, the plant can "
    "trip and people can be hurt.",
    on_label="Loop in manual or bypass",
    on_kind="bypass",
    if_not="Nothing is to be bypassed here",
    often=("no trip and no alarm hangs on it", "it is out of service"),
)
ISOLATE = Step(
    id="isolate",
    stage="safe",
    kind="checklist",
    title="Isolate and vent",
    instruction="Isolate the transmitter from the process and let the pressure off.",
    why="The reference must be the only pressure on the transmitter.",
    caution="Trapped pressure and hot or harmful fluid can injure when a fitting is opened. "
    "Vent and drain to a safe place, as the site procedure says.",
    items=(
        Item(id="closed", label="Isolation valve closed"),
        Item(id="vented", label="Vented and drained to a safe place"),
        Item(id="zero", label="No pressure left: gauge or reading at rest"),
    ),
)
IDENTITY = Step(
    id="identity",
    stage="identify",
    kind="record",
    part="",
    title="Read the plate",
    instruction="Read the serial number off the plate and type it.",
    why="The tag on the wall and the device behind it are not always the same.",
    fields=(
        Field(
            id="serial",
            label="Serial number on the plate",
            must_match="serial",
            often=("Device was replaced; the record is out of date", "Plate read twice"),
        ),
    ),
)


#: What is said where a measurement that would tell causes apart cannot be made.
CANNOT_MEASURE = "It cannot be measured here"


def in_each_round(steps: tuple[Step, ...], id: str) -> tuple[Step, ...]:
    """Return the steps with one of them, that tells causes apart, asked for anew in each round.

    Where it cannot be measured the causes stay apart, and nothing is set by either.
    """
    asked = {"anew": "round", "if_not": CANNOT_MEASURE}
    return tuple(replace(s, **asked) if s.id == id else s for s in steps)  # type: ignore[arg-type]


TAG = Field(
    id="tag",
    label="Tag in the device",
    must_match="tag",
    required=False,
    question="The record says {expected}. Another tag may mean another device. Read right?",
)
LOWER = Field(
    id="lower",
    label="Lower range value found",
    kind="number",
    unit="input",
    must_match="input_lower",
    governs=True,
)
UPPER = Field(
    id="upper",
    label="Upper range value found",
    kind="number",
    unit="input",
    must_match="input_upper",
    governs=True,
)
DAMPING = Field(id="damping", label="Damping found", kind="number", unit="s", required=False)
SHAPE = Field(
    id="characteristic",
    label="Output found: linear or square root",
    must_match="characteristic",
    governs=True,
    question="The record says {expected}. The root must be taken once in the loop, not twice and "
    "not never. Read right?",
)
STATE = Step(
    id="state",
    stage="identify",
    kind="checklist",
    title="Check the device's own state",
    instruction="Look at the device's own diagnosis.",
    why="A device in alarm or in a fixed-current mode does not measure.",
    items=(
        Item(id="alarms", label="No severe alarm active"),
        Item(id="mode", label="Not in fixed-current, hold or simulation mode"),
    ),
)
AMBIENT = Step(
    id="ambient",
    stage="identify",
    kind="record",
    part="environment",
    title="Note the surroundings",
    instruction="Note the temperature at the instrument.",
    why="It goes on the certificate and helps to explain a seasonal drift.",
    fields=(
        Field(id="temperature", label="Ambient temperature", kind="number", unit="°C"),
        Field(id="humidity", label="Relative humidity", kind="number", unit="%", required=False),
    ),
)
WARM_UP = Step(
    id="warm_up",
    stage="identify",
    kind="timer",
    title="Let it warm up",
    instruction="Leave transmitter and references powered until they have warmed up.",
    why="Readings drift while electronics warm up.",
    minutes="warm_up_minutes",
    meanwhile=True,
    often=("In service and powered for hours", "References warm since this morning"),
)


SMART_ONLY = Condition(
    lambda job, step: job.ledger.facts.smart, "only where the device has one", by_plan=True
)


def plainer(method: Method) -> Method:
    """Return the next version of a method, that asks for less.

    A device that tells nothing of itself is not asked for its state, and what only goes on the
    paper waits until there is a hand free.
    """

    def step(one: Step) -> Step:
        if one is STATE:
            return replace(one, only_if=SMART_ONLY)
        return replace(one, aside=True) if one is AMBIENT else one

    return replace(method, version=method.version + 1, steps=tuple(map(step, method.steps)))


def settings(*fields: Field, what: str = "the range set in the device") -> Step:
    """Return the step that writes down settings before anything is changed."""
    return Step(
        id="settings",
        stage="identify",
        kind="record",
        title="Write down the settings found",
        instruction=f"Read {what} before anything is changed.",
        why="A range that differs from the record is a setting, not a calibration error.",
        fields=fields,
    )


def connect(instruction: str, why: str, caution: str, label: str = "Reference connected") -> Step:
    """Return the step that connects the references."""
    return Step(
        id="connect",
        stage="identify",
        kind="put_on",
        title="Connect the references",
        button="References are connected",
        instruction=instruction,
        why=why,
        caution=caution,
        on_label=label,
    )


WRITE_BACK = Step(
    id="rerange",
    stage="adjust",
    kind="set",
    title="Bring the settings back to the record",
    instruction="Write what differs from the record to the device, and read it back.",
    why="This is re-ranging, not calibration: it is recorded as a change of settings, and the run "
    "is taken again before anything is trimmed.",
    caution="The loop current moves with every write. Only with the loop in manual.",
    only_if=DIFFERS,
    sets=(
        SetItem(id="lower", label="Lower range value", unit="input"),
        SetItem(id="upper", label="Upper range value", unit="input"),
        SetItem(id="characteristic", label="Output characteristic"),
        SetItem(id="sensor", label="Sensor type"),
    ),
)
DAMPING_OFF = Step(
    id="damping_off",
    stage="identify",
    kind="set",
    title="Damping off",
    instruction="Set the damping to 0 for the run, and read it back.",
    why="Damping hides how the reading settles; it comes back before the instrument does.",
    caution="The loop current follows faster now. Only with the loop in manual.",
    only_if=DAMPED,
    sets=(SetItem(id="damping", label="Damping", unit="s", to="0"),),
)
DAMPING_BACK = Step(
    id="damping_back",
    stage="return",
    kind="set",
    title="Damping back as found",
    instruction="Write the damping that was found, and read it back.",
    why="A loop tuned with damping may swing without it.",
    only_if=DAMPED,
    sets=(SetItem(id="damping", label="Damping", unit="s", to="found"),),
)


def as_found(caution: str = "") -> Step:
    """Return the step of the as-found run."""
    return Step(
        id="as_found",
        stage="found",
        kind="capture",
        title="As-found run",
        instruction="Take every point before anything is touched.",
        why="Without it nobody can tell how far out it was, and what that affected.",
        caution=caution,
        run="as_found",
    )


JUDGE = Step(
    id="judge",
    stage="adjust",
    kind="decide",
    judges="found",
    title="Decision",
    instruction="Decide: leave it, adjust it, or stop.",
    why="Adjusting what is fine adds error; forcing a bad adjustment hides a fault.",
)


def adjust(caution: str = "") -> tuple[Step, ...]:
    """Return adjusting, the as-left run and the judgement of it."""
    return (
        Step(
            id="adjust",
            stage="adjust",
            kind="adjust",
            title="Adjust",
            instruction="Adjust as advised until both ends are steady.",
            why="Zero and span can disturb each other.",
            caution=caution,
            only_if=TRIMMING,
        ),
        Step(
            id="as_left",
            stage="left",
            kind="capture",
            title="As-left run",
            instruction="Take the same points again.",
            why="Only the same run proves what the adjustment did.",
            run="as_left",
            only_if=ADJUSTING,
        ),
        Step(
            id="left_judge",
            stage="left",
            kind="decide",
            judges="left",
            title="Decision on the as-left run",
            instruction="It is still outside: adjust again, or stop.",
            why="An instrument outside its limits goes back only with eyes open.",
            only_if=LEFT_OUTSIDE,
        ),
    )


def disconnect(instruction: str, caution: str = "") -> Step:
    """Return the step that takes the references off."""
    return Step(
        id="disconnect",
        stage="return",
        kind="take_off",
        title="Take the references off",
        button="References are off",
        instruction=instruction,
        caution=caution,
        ends="connect",
    )


def restore(*items: Item) -> Step:
    """Return the step that puts everything back."""
    return Step(
        id="restore",
        stage="return",
        kind="checklist",
        title="Put it back",
        instruction="Bring the instrument back to how it was found.",
        why="A valve left shut or a cover left loose is found by the next fault.",
        items=items,
    )


COVERS = Item(id="covers", label="Wiring and covers closed")
VALVES = Item(id="valves", label="Valves back as found, no leak")
SETTINGS = Item(id="settings", label="Settings written to the device and read back")
UNBYPASS = Step(
    id="unbypass",
    stage="return",
    kind="take_off",
    title="Loop back to automatic, bypass off",
    button="Loop is in automatic, bypass off",
    instruction="Have the operator check the value, take the bypasses off and put the loop "
    "back as it was.",
    why="An instrument left in bypass is the worst mistake of all.",
    caution="Do this only when the value in the control room is plausible.",
    ends="bypass",
)
SIGN = Step(
    id="sign",
    stage="return",
    kind="sign",
    title="Sign",
    instruction="Read the result once more and sign with your password.",
    why="A signed job never changes; a correction is a new job that follows it.",
)
SOURCES = "Terms and run: IEC 61298-2. Uncertainty: JCGM 100. Decision: JCGM 106, ILAC-G8."
