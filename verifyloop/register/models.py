"""The register: one chain over everything that a record rests on, in the order it happened.

A job's opening, signature, paper and review; and every row of plan, rules, kit and people as it
became. What is in the tables and not in the register was put there past the product.
"""

from __future__ import annotations

from django.db import models


class Entry(models.Model):
    """One line. ``seal`` covers the line before, and all columns of this one."""

    at = models.DateTimeField()
    #: what happened: opened, signed, issued, reviewed, voided; row, gone; adopted
    kind = models.CharField(max_length=20)
    #: whose line it is: a job's number, or table and key of a row
    subject = models.CharField(max_length=120, db_index=True)
    account = models.CharField(max_length=150, blank=True)
    said = models.TextField()
    seal = models.CharField(max_length=80)

    class Meta:
        verbose_name_plural = "entries"

    def __str__(self) -> str:
        return f"{self.pk} {self.kind} {self.subject}"


class Head(models.Model):
    """How far one job has come, apart from the job: set back with its events it is still known.

    ``seal`` covers whose it is, number and seal of the newest event. One row a job, so that people
    who write into different jobs never wait for each other.
    """

    subject = models.CharField(max_length=120, unique=True)
    seq = models.PositiveIntegerField()
    head = models.CharField(max_length=80)
    seal = models.CharField(max_length=80)

    def __str__(self) -> str:
        return f"{self.subject}: {self.seq}"
