"""How far each job has come, kept in the register apart from the job itself."""

from __future__ import annotations

from calibration.engine.job.sealing import canonical
from verifyloop.register import keys
from verifyloop.register.models import Head


def keep(subject: str, seq: int, head: str) -> None:
    """Keep number and seal of the newest event of a job."""
    row = Head(subject=subject, seq=seq, head=head, seal=_seal(subject, seq, head))
    Head.objects.bulk_create(
        [row],
        update_conflicts=True,
        unique_fields=["subject"],
        update_fields=["seq", "head", "seal"],
    )


def _seal(subject: str, seq: int, head: str) -> str:
    return keys.seal(subject, canonical([seq, head]))


def behind(subject: str, seq: int, head: str) -> str:
    """Return what speaks against a job that stands at an event; empty where nothing does."""
    kept = Head.objects.filter(subject=subject).first()
    if kept is None:
        return "how far it had come is gone from the register"
    if not keys.fits(subject, canonical([kept.seq, kept.head]), kept.seal):
        return "how far it had come was changed in the register"
    if (kept.seq, kept.head) != (seq, head):
        return f"it had come to event {kept.seq} and stands at {seq}: it was set back"
    return ""
