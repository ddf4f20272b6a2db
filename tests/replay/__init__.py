"""Whole jobs of every method, kept with what they gave when they were done.

Signed work must read the same next year. ``jobs/`` holds, for each method, the events of whole
jobs as they were sealed, what was refused on the way, every state that the job went through, and
the certificate. ``test_replay`` folds them again and compares exactly. A difference is a decision:
it is written down in ``DECISIONS.md``, never recorded over. What a job gives since a decision is
kept beside it, in ``today/``, with its paper raw (``python -m tests.replay.decide``);
``adapter.py`` puts the oldest jobs back into the shape in which they were recorded.
"""
