"""A test taken again: after a failed check the test may have been wrong, and not the instrument.

What was read first stays on the paper, with what it was read and why it was repeated.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import REPAIR, REPEAT, REPEAT_OTHER
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import choice


def choices_with(
    job: Job, figures: RunFigures, step: Step, choices: tuple[Choice, ...]
) -> tuple[Choice, ...]:
    """Return what may be decided, with repeating the test where it failed and nothing was changed.

    It is advised once at most, and only where the cause may lie in the test.
    """
    ledger = job.ledger
    fresh = not ledger.changes and not ledger.written
    judge = job.family.judge
    # Outside; or not judged at all, as the test itself is not what it should be.
    doubted = figures.mark == "none" and bool(judge.test_at_fault(figures))
    failed = figures.mark == "outside" or doubted
    if step.judges != "found" or not failed or not fresh or not ledger.opened.asks:
        return choices
    advised = "" if ledger.attempts else judge.test_at_fault(figures)
    found = (
        choice(
            REPEAT_OTHER,
            f"Repeat it with another {judge.repeats_with}",
            advised == REPEAT_OTHER,
            True,
            f"It may be the {judge.repeats_with}. What was read stays on the paper.",
            (f"Another {judge.repeats_with} was on", f"The {judge.repeats_with} is in doubt"),
        ),
        choice(
            REPEAT,
            "Correct the test setup, repeat",
            advised == REPEAT,
            True,
            "Something was not on, tight or open. Say what; what was read stays on the paper.",
            ("Connection was not tight", "Nothing came through"),
        ),
    )
    others = tuple(replace(c, recommended=c.recommended and not advised) for c in choices)
    return (*found, *others) if advised else (*others, *found)


def first_answer_outside(job: Job) -> bool:
    """Tell whether a test that was repeated with the very same reference read outside.

    Then the first answer may have been the instrument's own, and what it may have affected is
    asked.
    """
    return any(
        attempt.decided.choice in (REPEAT, REPAIR)
        and job.at_attempt(number).figures(run).mark == "outside"
        for number, attempt in enumerate(job.ledger.attempts, 1)
        for run in attempt.readings
    )
