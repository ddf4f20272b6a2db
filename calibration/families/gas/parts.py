"""Steps that the methods for gas detectors share."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from calibration.engine.method.conditions import LEFT_OUTSIDE, REPLACING
from calibration.engine.method.method import Field, Item, KitRole, OneTap, Role, SetItem, Step
from calibration.families.gas.conditions import AIR_OUTSIDE, CHANNEL_OFF, TO_BE_SET
from calibration.families.gas.gases import OTHER_INSTRUMENT as OTHER_INSTRUMENT
from calibration.families.gas.gases import SUFFIX
from calibration.families.gas.words import GasRole, GasRun, GasSet
from calibration.families.shared import parts
from calibration.gas.cylinder import Purpose

READY = OneTap(heading="Make it ready, line by line", title="All done: gas on")
OUT = OneTap(heading="Put it back in service", title="All done")
ORDINAL = ("", ", second gas", ", third gas", ", fourth gas")
ZERO_GAS = GasRole(id="zero_gas", label="Zero gas", quantity="gas", purpose="zero")
NITROGEN = GasRole(id="nitrogen", label="Nitrogen", quantity="gas", purpose="nitrogen")
CARE = (
    "Calibration gas can burn, poison or smother. Ventilate, never breathe it, never vent a toxic "
    "gas in a room, and secure the cylinder against falling. Site procedure and permit come first."
)


METER = replace(parts.METER, instead="Read it at its display")


def span_gas(channel: int = 0) -> GasRole:
    """Return the role of a span gas."""
    return GasRole(
        id=f"span_gas{SUFFIX[channel]}",
        label=f"Span gas{ORDINAL[channel]}",
        quantity="gas",
        channel=channel,
    )


def kit(*roles: KitRole) -> Step:
    """Return the step that chooses cylinders and meter."""
    return Step(
        id="kit",
        stage="plan",
        kind="kit",
        title="Choose the gases",
        instruction="Choose the cylinders for this job.",
        why="Too little, too old or the wrong gas is found here, and not on the ladder. What the "
        "job takes at most is set aside.",
        roles=(*roles, METER),
    )


def air(run: str, title: str, channel: int = 0, clear: bool = False) -> GasRun:
    """Return a reading in the air around."""
    return _run(run, title, ("air",), channel, start="Read it in the air around", clear=clear)


def run(stage: str, title: str, *gases: Purpose, channel: int = 0) -> GasRun:
    """Return a run with gas."""
    return _run(stage, title, gases, channel)


#: What the runs of a detector are taken for: role, whether only before anything is changed, and
#: the name of their readings once they are adjusted from.
_STAGES: dict[str, tuple[Role, bool, str]] = {
    "as_found": ("found", True, "base"),
    "as_left": ("left", False, "base"),
    "as_found_n2": ("found", True, ""),
    "air_found": ("check", True, ""),
    "air_left": ("check", False, ""),
}


def _run(stage: str, title: str, gases: tuple[Purpose, ...], channel: int, **more: Any) -> GasRun:
    role, before, again = _STAGES[stage]
    return GasRun(
        id=stage + SUFFIX[channel],
        title=title,
        kind="gas",
        role=role,
        before=before,
        again=again + SUFFIX[channel] if again else "",
        gases=gases,
        channel=channel,
        **more,
    )


OPERATOR = replace(
    parts.OPERATOR,
    instruction="Tell the operator which detector, which gas, which alarms, and for how long.",
    why="A real alarm in the same area must still be believed.",
)
BYPASS = Step(
    id="bypass",
    stage="safe",
    kind="put_on",
    title="Detector in bypass",
    button="Detector is in bypass",
    instruction="Have the alarm and trip of this detector put in bypass, and see it confirmed.",
    why="The gas is about to look like a real one: it would trip or evacuate the plant.",
    caution="While it is in bypass nothing guards this place. Watch it yourself, keep the time "
    "short, and have another detector at hand.",
    on_label="Detector in bypass",
    on_kind="bypass",
    if_not="Nothing is to be bypassed here",
    often=("no trip and no alarm hangs on it", "it is out of service"),
    together=READY,
)
AREA = Step(
    id="area",
    stage="safe",
    kind="checklist",
    title="Area, cover and cylinder",
    instruction="Make sure that the place is safe for you and for the gas.",
    why="A cover opened in the wrong place is a source of ignition; a falling cylinder is worse.",
    caution=CARE,
    items=(
        Item(id="cover", label="Cover stays shut, or the area is declared safe by permit"),
        Item(id="air", label="Place ventilated; nobody breathes the gas"),
        Item(id="cylinder", label="Cylinder secured, regulator tight"),
    ),
    together=READY,
)
IDENTITY = replace(parts.IDENTITY, together=READY)
STATE = Step(
    id="state",
    stage="identify",
    kind="checklist",
    title="Check the detector's own state",
    instruction="Look at its display or diagnosis before gas comes near.",
    why="An output that is held reads as a fixed low current, which looks like clean air.",
    items=(
        Item(id="fault", label="No fault shown"),
        Item(id="mode", label="Measuring: not held, not in calibration mode"),
        Item(id="alarm", label="An alarm that stands is known: live or left over"),
    ),
)
WARM_UP = replace(
    parts.WARM_UP,
    instruction="Leave the detector powered until it has warmed up.",
    why="A cold sensor drifts: what is set now is wrong in half an hour.",
)
ADAPTER = Step(
    id="adapter",
    stage="identify",
    kind="put_on",
    title="Adapter on",
    button="Adapter is on",
    instruction="Put the calibration adapter on the sensor, hose from the regulator.",
    why="Wind thins the gas: without its adapter the sensor reads low.",
    caution=CARE,
    on_label="Adapter on the sensor",
    on_kind="adapter",
    order="adapter_on",
    together=READY,
)
ADAPTER_OFF = Step(
    id="adapter_off",
    stage="return",
    kind="take_off",
    title="Adapter off",
    button="Adapter is off",
    instruction="Take the adapter off and let air to the sensor.",
    why="A sensor under a forgotten adapter hears nothing of the plant.",
    ends="adapter",
    order="adapter_off",
)
ALARM = Step(
    id="alarm",
    stage="return",
    kind="checklist",
    title="Reset the alarm",
    instruction="Reset an alarm that stayed from the gas. One that comes back is live.",
    why="A latched alarm is history; a live one is gas.",
    caution="An alarm that comes back after the gas is off is a real one: leave, and follow the "
    "site's alarm procedure.",
    items=(Item(id="reset", label="Alarm reset, and it stays away"),),
    order="reset",
    together=OUT,
    leaves=True,
)
RESTORE = parts.restore(
    Item(id="covers", label="Cover shut, rain shield and filter back"),
    Item(id="gas", label="Cylinder shut, regulator let off"),
)
UNBYPASS = Step(
    id="unbypass",
    stage="return",
    kind="take_off",
    title="Bypass off",
    button="Bypass is off",
    instruction="Have the bypass taken off, and see the control room read clean air.",
    why="A detector left in bypass is the worst mistake of all.",
    caution="Only after the last reading in clean air.",
    ends="bypass",
    together=OUT,
    leaves=True,
)
AIR_JUDGE = Step(
    id="air_judge",
    stage="return",
    kind="decide",
    title="Clean air does not read clean",
    instruction="Decide: clean air reads below zero.",
    why="It was zeroed with gas around: it hides that much gas from now on.",
    judges="check",
    only_if=AIR_OUTSIDE,
)
SIGN = replace(parts.SIGN, leaves=True)


def air_found(channel: int = 0) -> Step:
    """Return the first reading in the air around."""
    return Step(
        id=f"air_found{SUFFIX[channel]}",
        stage="identify",
        kind="capture",
        title=f"Read it in the air around{ORDINAL[channel]}",
        instruction="Read it as it stands, before the adapter comes on.",
        why="Below zero it was zeroed with gas around; above zero gas there is gas around now.",
        run=f"air_found{SUFFIX[channel]}",
        channel=channel,
    )


def air_left(channel: int = 0) -> Step:
    """Return the purge and the last reading in clean air."""
    return Step(
        id=f"air_left{SUFFIX[channel]}",
        stage="return",
        kind="capture",
        title=f"Clear of gas{ORDINAL[channel]}",
        instruction="Wait until it is clear, then take the last reading in clean air.",
        why="The bypass comes off only when what it shows is clean air.",
        caution="A reading that does not fall may be real gas. Leave the bypass on and follow the "
        "site's alarm procedure.",
        run=f"air_left{SUFFIX[channel]}",
        channel=channel,
    )


def found(channel: int = 0, id: str = "", instruction: str = "") -> Step:
    """Return the as-found readings with gas."""
    name = id or f"as_found{SUFFIX[channel]}"
    return Step(
        id=name,
        stage="found",
        kind="capture",
        title=f"As found{ORDINAL[channel]}",
        instruction=instruction or "Apply each gas and read it, before anything is set.",
        why="Without it nobody can tell whether it would have warned.",
        caution=CARE,
        run=name,
        channel=channel,
        together=READY,
    )


JUDGE = replace(
    parts.JUDGE,
    instruction="Decide: leave it, set it, replace the sensor, or stop.",
    why="Setting what is wrong for another reason hides gas.",
)
REPLACE = Step(
    id="replace",
    stage="adjust",
    kind="checklist",
    title="Replace the sensor",
    instruction="Put the new sensor in and let it warm up as its manual says.",
    why="Its life starts anew: what went before says nothing about it.",
    caution="Open the head only as area and permit allow.",
    only_if=REPLACING,
    items=(
        Item(id="new", label="New sensor of the right type, in date"),
        Item(id="warm", label="Warmed up as its manual says"),
    ),
)


def set_gas(
    end: str, gas: Purpose, channel: int = 0, name: str = "", instruction: str = ""
) -> Step:
    """Return the step that sets zero or span with a gas."""
    words = {
        "zero": "Set zero when it is steady in zero gas.",
        "span": "Set span when it is steady in span gas.",
    }
    return GasSet(
        id=f"{name or end}{SUFFIX[channel]}",
        stage="adjust",
        kind="gas_set",
        title=f"Set {end}{ORDINAL[channel]}",
        instruction=instruction or words[end],
        why="Zero comes before span: the span counts from it.",
        caution="Never set a zero while there is gas around: it hides that gas from then on.",
        only_if=TO_BE_SET,
        end=end,  # type: ignore[arg-type]
        gas=gas,
        channel=channel,
    )


def left(channel: int = 0) -> Step:
    """Return the as-left readings with gas."""
    return Step(
        id=f"as_left{SUFFIX[channel]}",
        stage="left",
        kind="capture",
        title=f"As left{ORDINAL[channel]}",
        instruction="Apply the same gases again.",
        why="Only the same gases prove what was set.",
        run=f"as_left{SUFFIX[channel]}",
        only_if=CHANNEL_OFF,
        channel=channel,
    )


LEFT_JUDGE = Step(
    id="left_judge",
    stage="left",
    kind="decide",
    title="Decision on the as-left readings",
    instruction="It is still outside: set it again, or stop.",
    why="A detector outside its limits guards nobody.",
    judges="left",
    only_if=LEFT_OUTSIDE,
)


def span_setting(channel: int = 0) -> tuple[Step, Step]:
    """Return reading the span gas value set in the detector, and setting it to the cylinder."""
    name = "abcd"[channel]
    return (
        Step(
            id=f"settings{SUFFIX[channel]}",
            stage="identify",
            kind="record",
            title=f"Span gas set in it{ORDINAL[channel]}",
            instruction="Read the span gas value that the detector is set to.",
            why="Another cylinder than the one it was set for sets a wrong span.",
            fields=(
                Field(
                    id=f"span_{name}",
                    label="Set for {gas}",
                    kind="number",
                    channel=channel,
                ),
            ),
            channel=channel,
        ),
        Step(
            id=f"set_value{SUFFIX[channel]}",
            stage="adjust",
            kind="set",
            title=f"Set the value of the span gas{ORDINAL[channel]}",
            instruction="Set the detector to the cylinder of today, and read it back.",
            why="It sets its span to this value, whatever is in the cylinder.",
            only_if=TO_BE_SET,
            sets=(SetItem(id=f"span_{name}", label="Span gas value", to="gas"),),
            channel=channel,
        ),
    )


SOURCES = (
    "Terms: IEC 60079-29-1, IEC 60079-29-2. Currents below 3.6 mA: NAMUR NE 43. "
    "Explosive limits by the site's table. Limits of this method: the detector's manual decides."
)
