"""Whole jobs of every method, kept with what they gave when they were done.

Signed work must read the same next year. ``jobs/`` holds, for each method, the events of whole
jobs as they were sealed, what was refused on the way, every state that the job went through, and
the certificate. ``test_replay`` folds them again and compares exactly. A difference is a decision:
it is written down in ``DECISIONS.md`` and in ``adapter.py``, never recorded over.
"""
