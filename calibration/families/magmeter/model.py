"""An electromagnetic flow meter with a tester in it, as it is; faults included.

A pure function of its model, of what it was told, of the time and of a seed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from calibration.families.magmeter.facts import TestLine
from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import Command, Live
from calibration.simulate.machine import TAKEN, Machine
from calibration.simulate.noise import gaussian

#: One line takes the tester so long. [s]
LINE_S = 6.0
#: A line that was read stands so long before it counts. [s]
STANDS_S = 4.0
COPPER = 0.00393
#: A sound insulation, and what a line of yes or no says. [MΩ]
SOUND_MOHM, YES = 2000.0, 1.0


@dataclass(frozen=True, kw_only=True)
class MagModel:
    """A meter, its liquid, and the lines of the tester."""

    kind: Literal["magmeter"] = about("which virtual rig", default="magmeter")
    lines: tuple[TestLine, ...] = about("lines of the test", default=())
    shown: int = about("line that is looked at", default=0)
    coil_c: float = about("temperature of the coil", unit="°C", default=48.0)
    said_c: float = about("temperature that is written down", unit="°C", default=48.0)
    shorted_percent: float = about("turns shorted", unit="%", default=0.0)
    coil_mohm: float = about("insulation of the coil; 0 is sound", unit="MΩ", default=0.0)
    magnet_percent: float = about("field weaker", unit="%", default=0.0)
    coated: float = about("electrodes coated, times", default=1.0)
    conductivity: float = about("of the liquid now", unit="µS/cm", default=1800.0)
    usual_conductivity: float = about("as usual", unit="µS/cm", default=1800.0)
    electrode_mohm: float = about("insulation of the electrodes; 0 is sound", default=0.0)
    output_ma: float = about("output too high", unit="mA", default=0.0)
    board_percent: float = about("frequency of the electronics off", unit="%", default=0.0)
    wire_off: bool = about("one wire is not back", default=False)
    noise_percent: float = about("standard deviation", unit="%", default=0.05)
    at_ma: float | None = about("current that is looked at", unit="mA", default=None)


@dataclass
class _State:
    t: float = 0.0
    since: float = 0.0
    runs: int = 0
    mended: bool = False
    wired: int = 0


def _begin(model: MagModel) -> _State:
    return _State()


def _advance(model: MagModel, state: _State, t: float) -> None:
    state.t = max(state.t, t)


def _tell(model: MagModel, state: _State, command: Command) -> None:
    if command.setting == "test":
        # Run again, what was wrong with the test was put right.
        state.runs += 1
        state.mended = state.runs > 1
        state.since = command.t
    elif command.setting in ("wires_back", "repaired"):
        state.wired += 1
        state.since = command.t
    elif command.setting == TAKEN:
        state.since = command.t


def _sound(model: MagModel) -> MagModel:
    """Return the meter with what lies in the test put right."""
    return replace(
        model,
        coil_c=model.said_c,
        coil_mohm=0.0,
        coated=1.0,
        conductivity=model.usual_conductivity,
        electrode_mohm=0.0,
    )


def measured(model: MagModel, state: _State, line: TestLine) -> float:
    """Return what a line measures, without noise, in its unit.

    The resistance between electrodes goes with one over the conductivity, and with a coating;
    copper with its temperature.
    """
    of, reference = _sound(model) if state.mended else model, float(line.reference)
    if line.kind == "yes_no":
        return YES
    if line.kind == "at_least":
        own = of.coil_mohm if line.part == "coil" else of.electrode_mohm
        return own or SOUND_MOHM
    if line.part == "coil" and line.copper:
        return reference * (1 + COPPER * (of.coil_c - 20)) * (1 - of.shorted_percent / 100)
    if line.part == "coil":
        return reference * (1 - of.magnet_percent / 100)
    if line.part == "electrode":
        return reference * of.coated * of.usual_conductivity / of.conductivity
    if line.part == "output":
        return reference + of.output_ma
    return reference * (1 + of.board_percent / 100)


def places(line: TestLine) -> int:
    """Return with how many decimals a line is shown."""
    size = abs(float(line.reference)) or 1.0
    return 0 if line.kind in ("at_least", "yes_no") else max(0, 3 - math.floor(math.log10(size)))


def shown(model: MagModel, state: _State, n: int, seed: int) -> float:
    """Return what a line shows."""
    line = model.lines[n]
    noise = 0.0 if line.kind in ("at_least", "yes_no") else model.noise_percent / 100
    if line.part == "output":
        noise *= 0.02
    scatter = gaussian(seed, f"line {line.id}", state.runs)
    return measured(model, state, line) * (1 + noise * scatter)


def _held(model: MagModel, state: _State) -> float:
    if model.at_ma is not None:
        return min(1.0, (state.t - state.since) / 3.0)
    return min(1.0, (state.t - state.since) / (LINE_S * (model.shown + 1) + STANDS_S))


def read_at(model: MagModel, state: _State) -> bool:
    """Tell whether the tester has read the line that is looked at."""
    return state.t - state.since >= LINE_S * (model.shown + 1)


def _shows(model: MagModel, state: _State, seed: int) -> Live:
    applied = fixed(model.at_ma or 0.0, 3)
    if model.at_ma is not None or not model.lines:
        lost = 3.6 if model.wire_off and state.wired < 2 else None
        value = fixed(lost or (model.at_ma or 12.0) + model.output_ma, 3)
    else:
        line = model.lines[model.shown]
        said = shown(model, state, model.shown, seed) if read_at(model, state) else 0.0
        value = fixed(said, places(line))
    return Live(
        t=state.t, target=applied, applied=applied, digital=value, output=value, indicated=value
    )


def _settings(model: MagModel, state: _State) -> dict[str, str]:
    return {
        "coil_c": f"{model.said_c:.1f}",
        "liquid_c": f"{model.said_c:.1f}",
        "conductivity": f"{model.usual_conductivity:.0f}",
        "coil_c_checked": f"{model.coil_c:.1f}",
        "conductivity_now": f"{model.conductivity:.0f}",
        "flow_shown": "182",
        "program": "4.2",
    }


def _said(model: MagModel, state: _State) -> str:
    if model.at_ma is not None or not model.lines or not state.runs:
        return ""
    done = min(len(model.lines), int((state.t - state.since) / LINE_S))
    return f"line {min(done + 1, len(model.lines))} of {len(model.lines)}"


def _at_point(model: MagModel, target: float, way: str, label: str) -> MagModel:
    return replace(model, at_ma=target)


MACHINE = Machine(
    kind="magmeter",
    model=MagModel,
    begin=_begin,
    advance=_advance,
    tell=_tell,
    shows=_shows,
    settings=_settings,
    held=_held,
    said=_said,
    at_point=_at_point,
    takes_s=20.0,
)
