"""What the site asks of ways into accounts; who changes it proves who they are."""

from __future__ import annotations

from calibration.kernel.errors import InputError
from verifyloop import form_values
from verifyloop.accounts import security
from verifyloop.accounts.links import Proof, makers
from verifyloop.accounts.models import SignInRules, User
from verifyloop.accounts.permissions import require
from verifyloop.accounts.resets import rules
from verifyloop.errors import Conflict
from verifyloop.register.kept import version_of
from verifyloop.register.write_lock import writing


@writing()
def change(
    *,
    actor: User,
    links_by: str,
    reset_days: int,
    pin: bool,
    factor_roles: list[str],
    version: str,
    proof: Proof,
) -> SignInRules:
    """Change the rules, by the rule for links that stands.

    Raises
    ------
    Conflict
        when somebody else changed them since they were read, or nobody could make a link any more.
    """
    require(actor, "people.manage")
    now = rules()
    if (version_of(now) if now.pk else "") != version:
        raise Conflict(
            "version.old", "Somebody else changed the rules meanwhile.", "Look again, then change."
        )
    # Whoever could change them alone could make a link alone.
    makers(actor, proof)
    now.links_by = form_values.one_of(
        links_by, "links_by", "Who makes links", SignInRules.LinksBy.values
    )
    _somebody_can(now.links_by)
    now.reset_days, now.pin = reset_days, pin
    roles = [str(role) for role in User.Role.values]
    now.factor_roles = [r for r in roles if r in factor_roles]
    if unknown := sorted(set(factor_roles) - set(roles)):
        said = f"'{unknown[0][:20]}' is no role."
        raise InputError("role.unknown", "factor_roles", said, "Choose from: " + ", ".join(roles))
    now.save()
    security.say("rules of the sign-in changed", actor.username)
    return now


def _somebody_can(links_by: str) -> None:
    working = User.objects.filter(is_active=True)
    administrators = working.filter(role=User.Role.ADMINISTRATOR).count()
    managing = administrators + working.filter(role=User.Role.PLANNER).count()
    if links_by == SignInRules.LinksBy.ADMINISTRATOR and not administrators:
        raise Conflict(
            "rules.nobody", "There is no administrator.", "Give somebody that role first."
        )
    if links_by == SignInRules.LinksBy.TWO and managing < 2:
        raise Conflict(
            "rules.nobody",
            "There is only one planner or administrator.",
            "Give a second person that role first.",
        )
