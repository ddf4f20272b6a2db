"""Families whose works are a module each: shelf, instruments, visits, due dates, rigs."""

from __future__ import annotations

from typing import Any

from verifyloop.demo import electrodes, gcs, mixtures, plant, traces

#: one instrument of such a family
Own = electrodes.Loop | traces.Line | mixtures.Kiln | gcs.Device | plant.Machine
#: by what they call one of their instruments
MODULES: dict[type, Any] = {
    electrodes.Loop: electrodes,
    traces.Line: traces,
    mixtures.Kiln: mixtures,
    gcs.Device: gcs,
    plant.Machine: plant,
}
