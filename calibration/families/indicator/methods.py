"""Two methods: an indicator is set with a load, or only checked."""

from __future__ import annotations

from typing import Any

from calibration.engine.method.conditions import ADJUSTING, LEFT_OUTSIDE, TRIMMING
from calibration.engine.method.method import Field, Item, KitRole, Method, Step
from calibration.families.indicator.shape import wanted
from calibration.families.indicator.words import FACTOR, SET_SPAN, SET_ZERO
from calibration.families.shared import differential, limits, parts
from calibration.families.shared.runs import found_run, left_run
from calibration.families.shared.setting import KIND as SET_AT
from calibration.families.shared.weights import ROLE, WEIGHTS
from calibration.measuring.weighing import LOAD

FOUND_SETTINGS = parts.settings(
    Field(
        id="cell_factor",
        barred="The new factor is worked out from it.",
        label="Factor found",
        kind="number",
        must_match="cell_factor",
    ),
    Field(
        id="unit",
        barred="What is read counts in it.",
        label="Unit shown",
        must_match="input_unit",
        governs=True,
    ),
    what="factor and unit, before it is unlocked",
)
LOCKED = Step(
    id="found_locked",
    stage="identify",
    kind="checklist",
    title="Found locked?",
    instruction="Try whether a value can be changed without the password.",
    why="Whoever passes by can change an indicator that is left unlocked.",
    items=(
        Item(id="locked", label="Locked: it asks for its password"),
        Item(id="own", label="Its password is the site's own, not the maker's"),
    ),
)
CLEAR = Step(
    id="platform_clear",
    stage="found",
    kind="checklist",
    title="Clear and free",
    instruction="Clear the platform; look that nothing rubs or leans.",
    why="What touches it is weighed with every load.",
    caution=LOAD,
    anew="round",
    order="clear",
    items=(Item(id="clear", label="Nothing on it, nothing rubs"),),
)
UNLOCK = Step(
    id="unlocked",
    stage="adjust",
    kind="put_on",
    title="Unlock it",
    button="It is unlocked",
    instruction="Unlock the indicator. Its password is never written down here.",
    why="From here until it is locked anybody can change it.",
    caution="Do not leave it unlocked, not even for a moment.",
    on_label="Indicator unlocked",
    on_kind="fixed",
    only_if=ADJUSTING,
)
ZERO = Step(
    id=SET_ZERO,
    stage="adjust",
    kind=SET_AT,
    title="Zero set",
    instruction="Zero it with nothing on it.",
    why="A zero with a load on takes that load off every weight.",
    only_if=TRIMMING,
    order="zero",
)
SPAN = Step(
    id=SET_SPAN,
    stage="adjust",
    kind=SET_AT,
    title="Load set",
    instruction="Put the load on and key in what it is worth.",
    why="The indicator works out its factor from it.",
    caution=LOAD,
    only_if=TRIMMING,
    order="span",
)
READ = Step(
    id=FACTOR,
    stage="left",
    kind="record",
    title="The new factor",
    instruction="Read the factor again.",
    why="Typed in again it restores the scale without weights.",
    fields=(Field(id="factor_now", label="Factor now", kind="number"),),
    only_if=ADJUSTING,
    anew="round",
)
LEFT_JUDGE = Step(
    id="left_judge",
    stage="left",
    kind="decide",
    judges="left",
    title="Decision as left",
    instruction="It is still outside: set it again, or stop.",
    why="A scale outside its limit goes back only with eyes open.",
    only_if=LEFT_OUTSIDE,
)
LOCK = Step(
    id="locked_again",
    stage="return",
    kind="take_off",
    title="Lock it",
    button="It is locked",
    instruction="Lock it, and try whether it asks for its password.",
    ends="unlocked",
    only_if=ADJUSTING,
)


def _capture(id: str, stage: str, title: str, **more: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="capture",
        title=title,
        instruction="Nothing, the load, and another load that checks it.",
        why="Read before it is unlocked: without it nobody knows what was wrong."
        if stage == "found"
        else "Another load than the one that was keyed proves it.",
        caution=LOAD,
        run=id,
        **more,
    )


_BEFORE = (
    parts.kit(KitRole(id=ROLE, label="Set of weights", quantity=WEIGHTS), names="the load"),
    parts.OPERATOR,
    parts.BYPASS,
    parts.IDENTITY,
    FOUND_SETTINGS,
    LOCKED,
    parts.WARM_UP,
    CLEAR,
    _capture("as_found", "found", "As found"),
    differential.step("Setting hides a fault that it does not cure.", wanted),
    parts.JUDGE,
)
_AFTER = (
    parts.UNBYPASS,
    parts.restore(Item(id="clear", label="Weights down and counted"), parts.COVERS),
    parts.SIGN,
)
_GIVEN: dict[str, Any] = {
    "parameters": limits.parameters(
        without=("points", "pattern", "cycles", "overshoot_percent"),
        interval_days="365",
        stable_band_percent="0.02",
        stable_dwell_s="4",
    ),
    "sources": "Weights: OIML R 111-1. Uncertainty: JCGM 100, EURAMET cg-18. Decision: JCGM 106, "
    "ILAC-G8.",
}
_RUN: dict[str, Any] = {"kind": "on_platform", "start": "{value}", "up": "{value}"}
ADJUST = Method(
    id="indicator_adjust",
    version=1,
    title="Load-cell indicator, set with a load",
    called="set with a load",
    fits="Zero and factor are set with a load whose origin is known, and checked with another.",
    runs=(found_run(**_RUN), left_run(**_RUN)),
    steps=(
        *_BEFORE,
        UNLOCK,
        ZERO,
        SPAN,
        READ,
        _capture("as_left", "left", "As left", only_if=ADJUSTING),
        LEFT_JUDGE,
        LOCK,
        *_AFTER,
    ),
    **_GIVEN,
)
CHECK = Method(
    id="indicator_check",
    version=1,
    title="Load-cell indicator, check only",
    called="check",
    fits="It is read with a load and never unlocked.",
    sets=False,
    paper="Verification certificate",
    runs=(found_run(**_RUN),),
    steps=(*_BEFORE, *_AFTER),
    **_GIVEN,
)
