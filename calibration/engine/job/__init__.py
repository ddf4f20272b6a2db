"""The record of a job and what stands in it: entries, ledger, settings, steps, words."""
