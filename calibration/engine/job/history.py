"""Events in words, for the history of a job."""

from __future__ import annotations

from calibration.engine.admission.locking import in_words as lock_in_words
from calibration.engine.job import events as ev
from calibration.engine.job.event_words import CHOICE_WORDS, WORDS
from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.incidents import (
    BegunAgain,
    Ended,
    LineFailed,
    NotTold,
    Refused,
    Repaired,
    WentWithout,
)
from calibration.engine.job.ledger import NOT_HERE, Ledger
from calibration.engine.job.locks import LockEnded, LockHung, LockTakenOff
from calibration.engine.method.family import family_of, kind_of
from calibration.engine.method.method import Method, RunSpec
from calibration.kernel.rounding import as_typed

REPAIRS = {
    "cleaned": "Cleaned",
    "filter": "Filter changed",
    "connection": "Connection put right",
    "sensor": "Sensor replaced",
    "other": "Put right",
}
LEFT_WORDS = {
    "bypass": "in bypass",
    "manual": "loop in manual",
    "isolated": "isolated",
    "removed": "removed",
    "in_service": "in service",
}


def in_words(ledger: Ledger, event: Event) -> str:
    """Return one event as a sentence of the history."""
    c, method = event.content, ledger.method
    match c:
        case ev.Opened():
            return f"Job opened on {c.instrument.tag}"
        case ev.Confirmed():
            return f"{title_of(method, c.step)}: {c.said or _item(method, c)}"
        case ev.Recorded():
            return f"{title_of(method, c.step)}: {c.said or _field(method, c)} {c.value}"
        case WentWithout():
            roles = (r for s in method.steps for r in s.roles if r.id == c.role)
            return next((r.instead or r.label for r in roles), c.role)
        case LineFailed() | Ended() | Refused() | Repaired() | BegunAgain() | NotTold():
            return setback_in_words(method, c)
        case LockHung() | LockTakenOff() | LockEnded():
            return lock_in_words(title_of(method, c.step), c)
        case ev.KitChosen():
            reason = f" ({c.reason})" if c.reason else ""
            return f"Reference chosen: {c.asset.asset}, {c.asset.description}{reason}"
        case ev.PutOn() | ev.TakenOff():
            return title_of(method, c.step) + (f" ({c.note})" if c.note else "")
        case ev.TimerStarted():
            return f"{title_of(method, c.step)}: timer started"
        case ev.TimerWaived():
            return f"{title_of(method, c.step)}: no wait needed ({c.reason})"
        case ev.ReadingTaken():
            spec = method.run(c.run)
            return _reading(spec.title, _seen_by(ledger, spec), c)
        case ev.Written():
            what = f"{title_of(method, c.step)}: {_setting(method, c)} {c.value}"
            return f"{what}, read back {c.read_back}"
        case ev.LeftOut():
            return f"{method.run(c.run).title}: point {c.point + 1} left out ({c.reason})"
        case ev.Placed():
            return f"{method.run(c.run).title}: sensor put into {c.block}"
        case _:
            own = WORDS.get(type(c))
            return own(ledger, c) if own else _judged(method, c)


def _seen_by(ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
    return kind_of(family_of(ledger.method), spec).facts(ledger, spec)


def _judged(method: Method, c: object) -> str:
    match c:
        case ev.Decided():
            reason = f" ({c.reason})" if c.reason else ""
            return f"{title_of(method, c.step)}: {choice_words(method, c)}{reason}"
        case ev.Noted():
            return f"Note: {c.text}"
        case ev.Retracted():
            return f"Taken back: {c.reason}"
        case ev.LeftAs():
            return _left_as(c)
        case ev.Limited():
            return f"Limited use: {c.limit}" + (f", until {c.until}" if c.until else "")
        case ev.Impact():
            said = f"Found outside. Last good: {c.last_good}. May have affected: {c.affected}."
            return f"{said} Told: {c.told}"
        case ev.FollowedUp():
            return f"Followed up: {c.what}"
        case ev.TakenOver():
            on = ", ".join(title_of(method, step) for step in c.on)
            return f"Taken over: {on}"
        case ev.Voided():
            return f"Voided: {c.reason or 'opened by mistake'}"
        case ev.Signed():
            return f"Signed by {c.name}"
        case ev.Issued():
            what = f": {c.what}" if c.what else ""
            reason = f" ({c.reason})" if c.reason else ""
            return f"Certificate issued, issue {c.issue}{what}{reason}"
        case ev.Reviewed():
            return f"Reviewed by {c.name}: {'accepted' if c.outcome == 'accepted' else 'do again'}"
    return ""


def choice_words(method: Method, c: ev.Decided) -> str:
    """Return what was decided at a step in words; that it is not done here in those of the step."""
    step = method.step(c.step)
    if c.choice == NOT_HERE and step is not None and step.if_not:
        return step.if_not[:1].lower() + step.if_not[1:]
    return CHOICE_WORDS.get(c.choice, c.choice)


def _left_as(c: ev.LeftAs) -> str:
    said = [f"Left: {LEFT_WORDS[c.state]}"]
    said += [f"{name} {text}" for name, text in (("with", c.to), ("tag", c.tag)) if text]
    return ", ".join(said) + (f"; told: {c.told}" if c.told else "")


def title_of(method: Method, step_id: str) -> str:
    """Return the title of a step; its id where the method has none such."""
    step = method.step(step_id)
    return step.title if step else step_id


def setback_in_words(
    method: Method, c: LineFailed | Ended | Refused | Repaired | BegunAgain | NotTold
) -> str:
    """Return what went wrong, or was put right, as a sentence."""
    match c:
        case LineFailed():
            return f"{title_of(method, c.step)}: not so: {c.said or _item(method, c)} ({c.what})"
        case Ended():
            words = "The instrument failed" if c.state == "failed" else "Not done"
            return f"The job ended before it was judged. {words}: {c.reason}"
        case Refused():
            shows = f", it shows {as_typed(c.shows)}" if c.shows is not None else ""
            what = f" {c.end}" if c.end else ""
            return f"{title_of(method, c.step)}: the device refused{what}: {c.word}{shows}"
        case NotTold():
            return (
                f"{title_of(method, c.step)}: {c.said or _field(method, c)} not told ({c.reason})"
            )
        case BegunAgain():
            return f"{title_of(method, c.run)}: begun again ({c.reason})"
        case Repaired():
            serial = f", new serial {c.serial}" if c.serial.strip() else ""
            return f"{REPAIRS[c.what]}: {c.said}{serial}"


def _item(method: Method, c: ev.Confirmed | LineFailed) -> str:
    step = method.step(c.step)
    return next((i.label for i in step.items if i.id == c.item), c.item) if step else c.item


def _field(method: Method, c: ev.Recorded | NotTold) -> str:
    step = method.step(c.step)
    return next((f.label for f in step.fields if f.id == c.field), c.field) if step else c.field


def _setting(method: Method, c: ev.Written) -> str:
    step = method.step(c.step)
    return next((i.label for i in step.sets if i.id == c.setting), c.setting) if step else c.setting


def _reading(title: str, facts: ev.InstrumentFacts, c: ev.ReadingTaken) -> str:
    text = (
        f"{title}, point {c.point + 1}: {as_typed(c.applied)} {facts.input_unit} gives "
        f"{as_typed(c.reading)} {facts.output_unit}"
    )
    if c.early_reason:
        text += f", taken before steady ({c.early_reason})"
    return text + (", kept when asked" if c.kept else "")
