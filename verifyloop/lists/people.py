"""The list of people: accounts without a password; each gets a link by which to set one."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from calibration.kernel.errors import InputError
from calibration.kernel.present import Entry
from verifyloop.accounts.models import User
from verifyloop.accounts.people import ROLES, PersonGiven, change_person, entered, person_wrong
from verifyloop.lists.columns import Column
from verifyloop.lists.kinds import Row
from verifyloop.register.kept import version_of


def _entry(name: str, label: str, required: bool = True, **more: Any) -> Column:
    given = {"kind": "text", **more}
    return Column(name, label, Entry(name=name, label=label, required=required, **given))


class People:
    """Accounts by the name with which somebody signs in."""

    id, title, code = "people", "People", "people.manage"
    keys: tuple[str, ...] = ("username",)

    def columns(self) -> list[Column]:
        """Return the columns of an account; passwords are in no list."""
        return [
            _entry("username", "Name to sign in with"),
            _entry("first_name", "First name"),
            _entry("last_name", "Last name"),
            _entry("email", "E-mail", required=False),
            _entry("role", "Role", kind="choice", choices=ROLES),
            _entry("active", "Works here", required=False, kind="yes_no"),
        ]

    def records(self) -> Iterator[tuple[str, dict[str, Any]]]:
        """Yield every account."""
        for one in User.objects.order_by("username"):
            yield (
                one.username,
                {
                    "username": one.username,
                    "first_name": one.first_name,
                    "last_name": one.last_name,
                    **({"email": one.email} if one.email else {}),
                    "role": one.role,
                    "active": one.is_active,
                },
            )

    def judge(self, rows: Sequence[Row], before: Mapping[str, dict[str, Any]]) -> Iterable[int]:
        """Say of each row what is wrong with it."""
        for row in rows:
            if row.fate == "unchanged":
                continue
            was = before.get(row.key)
            found = person_wrong(_given(row.record), new=was is None)
            row.wrong += [found] if found is not None else []
            for name in ("first_name", "last_name"):
                if was is not None and row.record.get(name) != was.get(name):
                    row.wrong.append(
                        InputError(
                            "name.fixed",
                            name,
                            "Papers name this person: the name stays.",
                            "Make a new account for somebody else.",
                        )
                    )
            if was is not None and (row.record.get("email") or "") != (was.get("email") or ""):
                row.wrong.append(
                    InputError(
                        "email.fixed",
                        "email",
                        "An address can be a way into an account: no list changes one.",
                        "Change it at Site, People, with your own password.",
                    )
                )
        yield len(rows)

    def store(self, rows: Sequence[Row], actor: User, why: str, now: datetime) -> Iterable[int]:
        """Make new accounts, change others."""
        for row in rows:
            if row.fate == "new":
                entered(_given(row.record))
                continue
            user = User.objects.get(username=row.key)
            change_person(
                actor=actor,
                username=row.key,
                role=str(row.record.get("role") or ""),
                active=bool(row.record.get("active", True)),
                email=user.email,
                version=version_of(user),
                own="",
                now=now,
            )
        yield len(rows)


def _given(record: Mapping[str, Any]) -> PersonGiven:
    def said(name: str) -> str:
        return str(record.get(name) or "")

    return PersonGiven(
        username=said("username"),
        first_name=said("first_name"),
        last_name=said("last_name"),
        email=said("email"),
        role=said("role"),
    )
