"""Virtual runs for tests: a loop with a planted fault, read at every point of a plan.

Readings are means over a dwell of 5 s, as the rigs take them.
"""

from __future__ import annotations

from calibration.operations import run
from calibration.simulate.commands import Command
from calibration.simulate.loop import LoopModel, live, window

RANGE = {"input_lower": "0", "input_upper": "4000", "output_lower": "4", "output_upper": "20"}
SETTLE_S = 25.0


def read_run(seed=1, points=5, pattern="up_down", cycles=1, **faults):
    """Return readings of a whole run on a loop with faults, and the stations of each point."""
    model = LoopModel(lower=0, upper=4000, **faults)
    plan = run(
        "run.plan",
        {
            "input_lower": "0",
            "input_upper": "4000",
            "points": points,
            "pattern": pattern,
            "cycles": cycles,
        },
    )
    commands, readings, stations, t = [], [], [], 0.0
    for point in plan["points"]:
        commands.append(Command(t=t, kind="apply", value=float(point["nominal"])))
        t += SETTLE_S
        seen = live(model, commands, t, seed)
        dwell = window(model, commands, t, seed, 5.0)
        output = sum(v.output for v in dwell) / len(dwell)
        readings.append(
            {
                "nominal_percent": point["nominal_percent"],
                "applied": str(seen.applied),
                "reading": f"{output:.3f}",
                "direction": point["direction"],
                "cycle": point["cycle"],
            }
        )
        stations.append(
            {
                "applied": str(seen.applied),
                "digital": str(seen.digital),
                "output": f"{output:.3f}",
                "indicated": str(seen.indicated),
            }
        )
    return readings, stations


def evaluate(readings, tolerance="0.5", **more):
    """Evaluate readings of the 0 to 4000 kPa loop."""
    payload = {**RANGE, "tolerance": {"percent_of_span": tolerance}, "readings": readings}
    return run("run.evaluate", {**payload, **more})


def causes(readings, **more):
    """Return the names of the causes, most weighty first."""
    return [c["cause"] for c in evaluate(readings, **more)["diagnosis"]]
