"""Words of the interface as they were when jobs were kept: decision 26.

What is said in plainer words since is compared in the words of before; nothing else is touched.
"""

from __future__ import annotations

import re
from typing import Any

#: new and old, the longer first
WHOLE = (
    ("All done: gas on", "All of this is so: gas on"),
    ("All done", "All of this is so"),
    ("Stop this job…", "End here"),
    ("Why does this job stop?", "Why does the job end here?"),
    ("Out of limits: what was affected?", "Found outside: what follows?"),
    ("Correct the test setup, repeat", "Put the test right and repeat it"),
    ("Repair, then repeat as found", "Put it right here, then run again"),
    ("Repair, then repeat as left", "Put it right here, then run again"),
    ("Repair, then repeat the run", "Put it right here, then run again"),
)
#: what a decision is called, as a title and within a sentence
TITLES = (
    (re.compile(r"\bDecision on the "), "Judge the "),
    (re.compile(r"\bDecision as left\b"), "Judge as left"),
    (re.compile(r"(^|· |'|first: )Decision(?=$|:|'| ·)"), r"\1Judge"),
    (re.compile(r"(First: |Not done yet: |^|, then )decision on the "), r"\1judge the "),
    (re.compile(r"(First: |Not done yet: |^|, then )decision as left"), r"\1judge as left"),
    (re.compile(r"(First: |Not done yet: |^|, then )decision(?=$|\.|, then)"), r"\1judge"),
)

#: where the output is named
OUTPUT = re.compile(r"\.output_label$|\.columns\.\d+\.label$")


def words_then(found: dict[str, Any]) -> dict[str, Any]:
    """Return flat values in the words in which they were kept."""
    plain = {path: _then(value) for path, value in found.items()}
    if plain.get(".action.then") == "" and plain.get(".action.step"):
        plain[".action.then"] = "nothing: the job is done"
    for path, value in plain.items():
        # A display that is no current was called one.
        if value == "Display" and OUTPUT.search(path):
            plain[path] = "Loop current"
        if path.endswith(".button") and ".mishaps." in path and value == "No":
            plain[path] = "Not so"
    return plain


def _then(value: Any) -> Any:
    if not isinstance(value, str):
        return value
    for now, before in WHOLE:
        value = value.replace(now, before)
    for pattern, before in TITLES:
        value = pattern.sub(before, value)
    return value
