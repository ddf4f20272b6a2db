"""Setting up an instrument: its form, what is wrong with an entry, and what a job will ask."""
