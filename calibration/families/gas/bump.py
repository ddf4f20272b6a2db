"""The bump check of a fixed gas detector, and setting it in the same visit where it fails."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.conditions import FOUND_OUTSIDE, REPLACING
from calibration.engine.method.method import Condition, Method, Step
from calibration.families.gas import limits as gas_limits
from calibration.families.gas import parts as gas
from calibration.families.gas.conditions import CHANNEL_OFF, TO_BE_SET
from calibration.families.gas.facts import channels

_FIRST = (
    gas.kit(gas.span_gas()),
    gas.OPERATOR,
    gas.BYPASS,
    gas.AREA,
    gas.IDENTITY,
    gas.ADAPTER,
    gas.found(),
)
#: As it was: nothing can be set after it. For jobs that began with it.
GAS_BUMP_1 = Method(
    id="gas_bump",
    version=1,
    title="Bump check of a gas detector",
    called="bump check",
    fits="A quick proof that it answers. Nothing is set.",
    sets=False,
    runs=(
        gas.run("as_found", "As found", "span"),
        gas.air("air_left", "Clear of gas", clear=True),
    ),
    rounds=True,
    steps=(
        *_FIRST,
        replace(
            gas.JUDGE,
            only_if=FOUND_OUTSIDE,
            instruction="Decide: keep it in service, or take it out.",
            why="A detector that answers too little or too late warns nobody.",
        ),
        gas.ADAPTER_OFF,
        gas.air_left(),
        gas.AIR_JUDGE,
        gas.ALARM,
        gas.UNBYPASS,
        gas.SIGN,
    ),
    parameters=gas_limits.gas(without=("school", "warm_up_minutes"), interval_days="30"),
    sources=gas.SOURCES,
)

#: Known only once it failed: until then no gas for it is set aside, and none is asked for.
GOES_ON = replace(CHANNEL_OFF, words="only if it is set here and now", by_plan=True)
SET_GOES_ON = replace(TO_BE_SET, words=GOES_ON.words, by_plan=True)
#: An infrared head takes a zero only: its response is checked.
SPAN_GOES_ON = replace(
    SET_GOES_ON,
    test=lambda job, step: (
        SET_GOES_ON.test(job, step)
        and channels(job.ledger.facts)[step.channel].principle != "infrared"
    ),
)
EARLY = ("plan", "identify")


def _if_it_goes_on(step: Step, condition: Condition = GOES_ON) -> Step:
    """Return a step that comes only where a failed check goes on to a calibration."""
    return replace(step, stage="adjust" if step.stage in EARLY else step.stage, only_if=condition)


_KIT = replace(
    gas.kit(gas.ZERO_GAS),
    id="kit_zero",
    title="Choose the zero gas",
    instruction="The check failed and it is set now: choose the zero gas.",
    why="The span counts from the zero, and the zero takes clean gas.",
    roles=(gas.ZERO_GAS,),
)

GAS_BUMP = replace(
    GAS_BUMP_1,
    version=2,
    sets=True,
    covers_if_set=("gas_zero_span", "gas_infrared"),
    fits="A quick proof that it answers. Where it fails it can be set in the same visit.",
    runs=(
        gas.run("as_found", "As found", "span"),
        gas.run("as_left", "As left", "zero", "span"),
        gas.air("air_left", "Clear of gas", clear=True),
    ),
    steps=(
        *_FIRST,
        replace(
            gas.JUDGE,
            only_if=FOUND_OUTSIDE,
            instruction="Decide: repeat the test, set it here and now, or take it out of service.",
            why="A detector that answers too little or too late warns nobody.",
        ),
        _if_it_goes_on(_KIT),
        _if_it_goes_on(gas.REPLACE, REPLACING),
        *(_if_it_goes_on(step, SPAN_GOES_ON) for step in gas.span_setting()),
        _if_it_goes_on(gas.set_gas("zero", "zero"), SET_GOES_ON),
        _if_it_goes_on(gas.set_gas("span", "span"), SPAN_GOES_ON),
        _if_it_goes_on(gas.left()),
        gas.LEFT_JUDGE,
        gas.ADAPTER_OFF,
        gas.air_left(),
        gas.AIR_JUDGE,
        gas.ALARM,
        _if_it_goes_on(gas.RESTORE),
        gas.UNBYPASS,
        gas.SIGN,
    ),
    parameters=gas_limits.gas(
        *gas_limits.SETTING, without=("school", "warm_up_minutes"), interval_days="30"
    ),
)
