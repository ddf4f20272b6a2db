"""Pressure transmitter with a 4-20 mA output, linear."""

from __future__ import annotations

from calibration.procedure.method import Field, Item, KitRole, Method, ParameterSpec, Step

_PLAN = (
    Step(
        id="kit",
        stage="plan",
        kind="kit",
        title="Choose the references",
        instruction="Choose the pressure reference and the milliampere meter for this job.",
        why="Their accuracy and their own due dates decide what the result is worth.",
        roles=(
            KitRole(id="pressure_reference", label="Pressure reference", quantity="pressure"),
            KitRole(id="milliampere_meter", label="Milliampere meter", quantity="current"),
        ),
    ),
)
_SAFE = (
    Step(
        id="operator",
        stage="safe",
        kind="record",
        title="Tell the operator",
        instruction="Tell the operator which instrument, what will move, and for how long.",
        why="The control room must know that this value will be wrong.",
        caution="Work under the site's permit and procedure; local code and licensed practice "
        "come first.",
        fields=(
            Field(id="operator", label="Operator told"),
            Field(id="permit", label="Permit or work order", required=False),
        ),
    ),
    Step(
        id="bypass",
        stage="safe",
        kind="put_on",
        title="Loop in manual, trips in bypass",
        instruction="Have the operator put the loop in manual and bypass every trip that uses "
        "this value. Confirm when it is done.",
        why="The output is about to swing over the whole range.",
        caution="A loop left in automatic follows the test signal: valves move, the plant can "
        "trip and people can be hurt.",
        on_label="Loop in manual or bypass",
    ),
    Step(
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
    ),
)
_IDENTIFY = (
    Step(
        id="identity",
        stage="identify",
        kind="record",
        title="Read the plate",
        instruction="Read the serial number off the plate and type it.",
        why="The tag on the wall and the device behind it are not always the same.",
        fields=(Field(id="serial", label="Serial number on the plate", must_match="serial"),),
    ),
    Step(
        id="settings",
        stage="identify",
        kind="record",
        title="Write down the settings found",
        instruction="Read the range set in the device before anything is changed.",
        why="A range that differs from the record is a setting, not a calibration error.",
        fields=(
            Field(
                id="lower",
                label="Lower range value found",
                kind="number",
                unit="input",
                must_match="input_lower",
            ),
            Field(
                id="upper",
                label="Upper range value found",
                kind="number",
                unit="input",
                must_match="input_upper",
            ),
            Field(id="damping", label="Damping found", kind="number", unit="s", required=False),
        ),
    ),
    Step(
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
    ),
    Step(
        id="connect",
        stage="identify",
        kind="put_on",
        title="Connect the references",
        instruction="Connect the pressure reference and put the milliampere meter in the loop.",
        why="From here on the transmitter measures the reference.",
        caution="Keep to the rated pressure of every fitting and hose. In a hazardous area, open "
        "a cover or a loop only as permit and area rules allow.",
        on_label="Reference connected",
    ),
    Step(
        id="ambient",
        stage="identify",
        kind="record",
        title="Note the surroundings",
        instruction="Note the temperature at the instrument.",
        why="It goes on the certificate and helps to explain a seasonal drift.",
        fields=(
            Field(id="temperature", label="Ambient temperature", kind="number", unit="°C"),
            Field(
                id="humidity", label="Relative humidity", kind="number", unit="%", required=False
            ),
        ),
    ),
    Step(
        id="warm_up",
        stage="identify",
        kind="timer",
        title="Let it warm up",
        instruction="Leave transmitter and references powered until they have warmed up.",
        why="Readings drift while electronics warm up.",
        minutes="warm_up_minutes",
    ),
)
_RUNS = (
    Step(
        id="as_found",
        stage="found",
        kind="capture",
        title="As-found run",
        instruction="Take every point before anything is touched.",
        why="Without it nobody can tell how far out it was, and what that affected.",
        run="as_found",
    ),
    Step(
        id="judge",
        stage="adjust",
        kind="decide",
        title="Judge",
        instruction="Decide: leave it, adjust it, or stop.",
        why="Adjusting what is fine adds error; forcing a bad adjustment hides a fault.",
    ),
    Step(
        id="adjust",
        stage="adjust",
        kind="adjust",
        title="Adjust",
        instruction="Adjust as advised until both ends are steady.",
        why="Zero and span can disturb each other.",
        only_if="adjusting",
    ),
    Step(
        id="as_left",
        stage="left",
        kind="capture",
        title="As-left run",
        instruction="Take the same points again.",
        why="Only the same run proves what the adjustment did.",
        run="as_left",
        only_if="adjusting",
    ),
    Step(
        id="left_judge",
        stage="left",
        kind="decide",
        title="Judge the as-left run",
        instruction="It is still outside: adjust again, or stop.",
        why="An instrument outside its limits goes back only with eyes open.",
        only_if="left_outside",
    ),
)
_RETURN = (
    Step(
        id="disconnect",
        stage="return",
        kind="take_off",
        title="Take the references off",
        instruction="Vent the reference, disconnect it and close the loop again.",
        caution="Let the pressure off before opening a fitting.",
        ends="connect",
    ),
    Step(
        id="restore",
        stage="return",
        kind="checklist",
        title="Put it back",
        instruction="Bring the instrument back to how it was found.",
        why="A valve left shut or a cover left loose is found by the next fault.",
        items=(
            Item(id="valves", label="Valves back as found, no leak"),
            Item(id="covers", label="Wiring and covers closed"),
            Item(id="settings", label="Settings written to the device and read back"),
        ),
    ),
    Step(
        id="unbypass",
        stage="return",
        kind="take_off",
        title="Loop back to automatic, bypass off",
        instruction="Have the operator check the value, take the bypasses off and put the loop "
        "back as it was.",
        why="An instrument left in bypass is the worst mistake of all.",
        caution="Do this only when the value in the control room is plausible.",
        ends="bypass",
    ),
    Step(
        id="sign",
        stage="return",
        kind="sign",
        title="Sign",
        instruction="Read the result once more and sign with your password.",
        why="A signed job never changes; a correction is a new job that follows it.",
    ),
)

PRESSURE_TRANSMITTER = Method(
    id="pressure_transmitter",
    version=1,
    title="Pressure transmitter 4-20 mA, points up and down",
    steps=_PLAN + _SAFE + _IDENTIFY + _RUNS + _RETURN,
    parameters=(
        ParameterSpec(id="points", label="Points", default="5"),
        ParameterSpec(id="pattern", label="Order of the points", default="up_down"),
        ParameterSpec(id="cycles", label="Cycles", default="1"),
        ParameterSpec(
            id="overshoot_percent", label="Go past the turning point by", default="2", unit="%"
        ),
        ParameterSpec(
            id="adjust_share", label="Adjust limit, share of tolerance", default="70", unit="%"
        ),
        ParameterSpec(
            id="adjust_to_share", label="Adjust to, share of tolerance", default="20", unit="%"
        ),
        ParameterSpec(id="school", label="When to adjust", default="when_needed"),
        ParameterSpec(id="decision_rule", label="Decision rule", default="simple"),
        ParameterSpec(id="minimum_ratio", label="Accuracy ratio wanted", default="4"),
        ParameterSpec(id="warm_up_minutes", label="Warm-up", default="15", unit="min"),
        ParameterSpec(
            id="stable_band_percent", label="Steady within", default="0.05", unit="% of span"
        ),
        ParameterSpec(id="stable_dwell_s", label="Steady for", default="5", unit="s"),
        ParameterSpec(
            id="suspect_percent", label="Ask about values off by", default="5", unit="% of span"
        ),
        ParameterSpec(id="bypass_minutes", label="Bypass at most", default="120", unit="min"),
        ParameterSpec(id="interval_days", label="Interval", default="180", unit="d"),
    ),
    sources="Terms and run: IEC 61298-2. Uncertainty: JCGM 100. Decision: JCGM 106, ILAC-G8.",
)
