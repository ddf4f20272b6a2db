"""The steps of a loop check: fixed currents, read at the output and in the control room."""

from __future__ import annotations

from calibration.engine.method.conditions import site_says
from calibration.engine.method.method import Step

LOOP_CHECKED = site_says("loop_check")
LOOP_CHECK = (
    Step(
        id="fix_on",
        stage="found",
        kind="put_on",
        title="Fixed-current mode on",
        button="Fixed current is on",
        instruction="Put the device into its fixed-current mode.",
        why="Fixed currents test output and receiver without the sensor.",
        caution="The loop current jumps and no longer measures. Only with the loop in manual.",
        on_label="Fixed-current mode",
        on_kind="fixed",
        only_if=LOOP_CHECKED,
    ),
    Step(
        id="loop_check",
        stage="found",
        kind="capture",
        title="Loop check",
        instruction="Read meter and control room at each fixed current.",
        why="It tells an error of the output from one of the receiver.",
        caution="The device does not measure while its current is fixed.",
        run="loop_check",
        only_if=LOOP_CHECKED,
    ),
    Step(
        id="fix_off",
        stage="found",
        kind="take_off",
        title="Fixed-current mode off",
        button="Fixed current is off",
        instruction="End the fixed-current mode and see the output follow the input again.",
        why="A device left in fixed current measures nothing and looks healthy.",
        ends="fix_on",
        order="release",
        only_if=LOOP_CHECKED,
    ),
)
