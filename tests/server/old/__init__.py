"""A works of an earlier version, and what it answered then.

``works.sqlite3`` was made before families had folders (its last migrations: plant 0004, kit 0002,
work 0003); ``answers.json`` is what :mod:`tests.server.old.answers` printed on that version.
"""
