"""Level: by displacer with weights and a wet run, and by differential pressure."""

from __future__ import annotations

from calibration.engine.method.family import Fit
from calibration.families.level.hung import ROWS, Hung
from calibration.families.level.judge import LiquidJudge
from calibration.families.level.kinds import Liquid, Weights, of_glass
from calibration.families.level.methods import (
    DISPLACER_LEVEL,
    DISPLACER_LEVEL_1,
    DISPLACER_LEVEL_2,
    DISPLACER_LEVEL_3,
    DP_LEVEL,
    DP_LEVEL_1,
)
from calibration.families.level.shape import LevelShape
from calibration.families.level.templates import TEMPLATES
from calibration.families.shared.loop import family

FAMILY = family(
    id="level",
    title="Level",
    methods=(
        DISPLACER_LEVEL_1,
        DISPLACER_LEVEL_2,
        DISPLACER_LEVEL_3,
        DISPLACER_LEVEL,
        DP_LEVEL_1,
        DP_LEVEL,
    ),
    templates=TEMPLATES,
    fits=(
        Fit(
            DISPLACER_LEVEL.id,
            lambda facts: bool(facts.setting("displacer_kg")),
            "mass and density of a displacer are on record",
            rank=1,
        ),
        Fit(
            DP_LEVEL.id,
            lambda facts: bool(facts.setting("level_upper_m")),
            "heights of a vessel are on record",
            rank=2,
        ),
    ),
    runs={kind.id: kind for kind in (Weights(), Hung(), Liquid())},
    causes=ROWS,
    judge=LiquidJudge(),
    shape=LevelShape(),
    weighs={"level_glass": of_glass},
)
