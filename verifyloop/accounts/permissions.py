"""Who may do what, as data."""

from verifyloop.accounts.models import User
from verifyloop.errors import NotAllowed
from verifyloop.register.who import request_now

#: Mark of a session whose person has yet to add a second factor.
BARE = "bare"

ALLOWED: dict[str, tuple[str, ...]] = {
    "job.open": ("technician", "planner"),
    "job.record": ("technician",),
    "job.sign": ("technician",),
    "job.review": ("reviewer",),
    "job.amend": ("reviewer",),
    "job.follow": ("planner", "reviewer"),
    "job.force": ("technician", "reviewer"),
    "lock.end": ("planner",),
    "instrument.plan": ("planner",),
    "bench.tables": ("planner",),
    "method.change": ("planner",),
    "instrument.note": ("technician", "reviewer", "planner"),
    "file.add": ("technician", "reviewer", "planner"),
    "file.remove": ("planner",),
    "plant.setup": ("planner",),
    "kit.setup": ("planner",),
    "people.manage": ("planner", "administrator"),
    "site.change": ("planner", "administrator"),
}
WORDS = {
    "job.open": "open a job",
    "job.record": "record in a job",
    "job.sign": "sign a job",
    "job.review": "review a job",
    "job.amend": "amend a certificate",
    "job.follow": "work off what an error may have affected",
    "job.force": "agree to force an adjustment",
    "lock.end": "decide about the lock of somebody absent",
    "instrument.plan": "move a due date",
    "bench.tables": "change the site's tables",
    "method.change": "change a method or its limits",
    "instrument.note": "note what happened to an instrument",
    "file.add": "put a file beside something",
    "file.remove": "take away a file of somebody else",
    "plant.setup": "set up instruments and areas",
    "kit.setup": "set up references and gas",
    "people.manage": "invite people or change their roles",
    "site.change": "change what is said of the site",
}


def can(user: User | None, code: str) -> bool:
    """Tell whether a person may do something; nobody signed in may do nothing."""
    return user is not None and user.is_active and user.role in ALLOWED[code] and not bare()


def bare() -> bool:
    """Tell whether this session waits for a second factor that the site asks of its role."""
    return bool(getattr(request_now(), "session", {}).get(BARE))


def whole() -> None:
    """Refuse a session that waits for a second factor.

    Raises
    ------
    NotAllowed
        ``factor.missing``.
    """
    if bare():
        raise NotAllowed(
            "factor.missing",
            "At this site your role needs a second factor.",
            "Add a passkey or an app at Site, My sign-in.",
        )


def require(user: User | None, code: str) -> None:
    """Refuse what a person may not do, naming who may."""
    whole()
    if not can(user, code):
        who = " or ".join(ALLOWED[code])
        raise NotAllowed(
            "role.not_allowed",
            f"Your role cannot {WORDS[code]}.",
            f"Ask a {who} to do it.",
        )


def codes_of(user: User) -> list[str]:
    """Return everything a person may do."""
    return [code for code in ALLOWED if can(user, code)]
