"""The Bench: every calculator with its picture, tables, finding one."""
