"""The engine of a job: events, fold, admission. It asks; a family answers."""
