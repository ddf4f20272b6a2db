"""The rules of the job: pure Python, deterministic, free of clock, randomness and files."""
