"""What the virtual technician answers when a job asks what follows."""

from __future__ import annotations

from calibration.engine.view.asks import Form


def answer(asked: Form) -> dict[str, str]:
    """Return an answer that a person might give: what is said often, else a word of their own."""
    said = {f.id: f.often[0] if f.often else f"{f.hint}, as agreed" for f in asked.fields}
    if asked.choices:
        said["state"] = "isolated"
    return said
