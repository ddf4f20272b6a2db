"""What a rig showed, sample by sample, kept until something else is commanded.

A sample is a pure function of model, commands, seed and its place, so it is the same whether it is
kept or worked out anew; a page that looks again asks for the newest only.
"""

from __future__ import annotations

import math
import threading
from functools import lru_cache
from typing import NamedTuple

from calibration.signals.stability import Sample
from calibration.simulate.commands import NOISE_STEP_S, Command, Live
from calibration.simulate.rigs import Model, kind_of, window


class Shown(NamedTuple):
    """What a rig showed at one moment, and its output as a sample of a signal."""

    live: Live
    sample: Sample


def shown(live: Live) -> Shown:
    """Return what is shown with its sample."""
    return Shown(live, Sample(t=live.t, value=float(live.output)))


class Reel:
    """The samples of one rig, as it is looked at, since it was commanded last."""

    def __init__(self, model: Model, commands: tuple[Command, ...], seed: int) -> None:
        self.model, self.commands, self.seed = model, commands, seed
        self._shown: dict[int, Shown] = {}
        self._hands = threading.Lock()

    def window(self, t: float, seconds: float) -> list[Shown]:
        """Return the samples of the last ``seconds`` up to ``t``, oldest first."""
        if kind_of(self.model).stands:
            found = window(self.model, self.commands, on_grid(t), self.seed, seconds)
            return [shown(live) for live in found]
        last = place_of(t)
        first = max(0, last - int(seconds / NOISE_STEP_S))
        with self._hands:
            lacking = [n for n in range(first, last + 1) if n not in self._shown]
            if lacking:
                end, length = lacking[-1], lacking[-1] - lacking[0]
                found = window(
                    self.model,
                    self.commands,
                    end * NOISE_STEP_S,
                    self.seed,
                    length * NOISE_STEP_S,
                )
                places = range(lacking[0], end + 1)
                self._shown |= dict(zip(places, map(shown, found), strict=True))
            wanted = [self._shown[n] for n in range(first, last + 1)]
            if len(self._shown) > 2 * len(wanted):
                self._shown = dict(zip(range(first, last + 1), wanted, strict=True))
            return wanted


def place_of(t: float) -> int:
    """Return the number of the sample that is shown at a time. [s]"""
    return math.floor(t / NOISE_STEP_S + 1e-6)


def on_grid(t: float) -> float:
    """Return when the sample began that is shown at a time. [s]"""
    return place_of(t) * NOISE_STEP_S


@lru_cache(maxsize=128)
def reel(model: Model, commands: tuple[Command, ...], seed: int) -> Reel:
    """Return the reel of a rig: another one once its model or commands are others."""
    return Reel(model, commands, seed)
