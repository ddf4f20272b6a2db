"""The rig of a current loop: it is commanded beside the job, and trimmed by it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.view.state import Station
from calibration.families.shared.loop import progress, trims
from calibration.families.shared.loop.strip import stations
from calibration.kernel.errors import InputError
from calibration.simulate.alongside import Alongside, Trimmed, Watched
from calibration.simulate.commands import Live


class InLoop(Watched):
    """A live signal seen at every station of the loop."""

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...]:
        """Return the five stations."""
        return stations(
            facts,
            now.applied,
            now.digital if facts.smart else None,
            now.output,
            now.indicated if facts.indicated else None,
            "",
        )


class LoopRig(Alongside):
    """How the rig of a loop goes along with its job."""

    fills = (trims.KIND,)

    def watched(self, job: Reads) -> Watched:
        """Return the signal at every station."""
        return InLoop()

    def filled(
        self, job: Reads, data: dict[str, Any], shown: Mapping[str, str], was: Trimmed
    ) -> dict[str, Any]:
        """Return an adjustment with what the rig showed before and after it.

        Raises
        ------
        InputError
            ``adjust.not_trimmed``.
        """
        hop, trim = data.get("hop"), data.get("action") == "trim"
        screws = trims.way(job.ledger.method).screws
        before = was("sensor" if hop == "transmitter" and not screws else str(hop))
        if trim and before is None:
            raise InputError(
                "adjust.not_trimmed", "data.hop", "The rig was not trimmed yet.", "Trim it first."
            )
        known = {"before": str(before)} if trim and (hop != "transmitter" or screws) else {}
        if progress.now(job).fixed:
            # The device gave the current itself: what is applied is what that stands for.
            shown = {"reading": shown["reading"], "applied": str(data["applied"])}
        return {**data, **known, **shown}
