"""What the simulated device of a job writes into a file: a stand-in for the device's own export."""

from __future__ import annotations

from datetime import datetime

from calibration.kernel.numbers import exact
from verifyloop.errors import NotFound
from verifyloop.rigs.services import rig_of
from verifyloop.work.enrich import rigging, source_for
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.models import Job


def written(job: Job, now: datetime) -> str:
    """Return the file of its newest run.

    Raises
    ------
    NotFound
        ``file.none``, and that there is no rig.
    """
    rig = rig_of(job.instrument.tag)
    core = core_job(job, events_of(job), now)
    text = ""
    if core.current is not None:
        source = source_for(job, core, now)
        with exact():
            text = rigging(core).file(
                core, source.model, source.commands, source.time_at(now), rig.seed
            )
    if not text:
        raise NotFound("file.none", "The device has written no file.", "Type the values.")
    return text
