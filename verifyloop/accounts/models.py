"""People who sign in, and the links by which they set their password."""

from django.contrib.auth.models import AbstractUser, UserManager
from django.db import models

from verifyloop.register.kept import Kept, KeptQuerySet


class People(UserManager.from_queryset(KeptQuerySet["User"])):  # type: ignore[misc]
    """Accounts; every change of one is written into the register."""

    #: a migration begins with Django's own
    use_in_migrations = False


class User(Kept, AbstractUser):
    """A person with one role; the permissions of each role are in ``permissions``."""

    class Role(models.TextChoices):
        TECHNICIAN = "technician"
        REVIEWER = "reviewer"
        PLANNER = "planner"
        ADMINISTRATOR = "administrator"
        READ_ONLY = "read-only"

    #: the Django group of the same name is kept in step by ``people``
    role = models.CharField(max_length=20, choices=Role.choices, default=Role.TECHNICIAN)

    #: gets what is due by e-mail every morning
    daily_mail = models.BooleanField(default=False)
    #: when others last opened a way into this account, and what they did, in words
    reset_at = models.DateTimeField(null=True)
    reset_how = models.CharField(max_length=240, blank=True)

    objects = People()  # type: ignore[misc]

    @property
    def display_name(self) -> str:
        """Return the name that appears on records."""
        return self.get_full_name() or self.username


class OneTimeLink(Kept):
    """A link that sets a password once: for somebody new, or for one who forgot theirs."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="links")
    #: SHA-256 of what stands in the link; the link itself is not kept
    digest = models.CharField(max_length=64, unique=True)
    made_by = models.CharField(max_length=120)
    #: who made it, and who agreed, by the names they sign in with
    accounts = models.CharField(max_length=310, blank=True)
    made_at = models.DateTimeField()
    expires_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"link of {self.user.username}"


class Feed(Kept):
    """A secret address under which a person's calendar is read without signing in."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="feeds")
    #: SHA-256 of what stands in the address; the address itself is not kept
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"calendar of {self.user.username}"


class View(models.Model):
    """What a person looks for often: filters of a list, under a name."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="views")
    #: which list
    place = models.CharField(max_length=20)
    name = models.CharField(max_length=40)
    #: as it stands in the address
    query = models.CharField(max_length=400)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["user", "place", "name"], name="one_view_a_name")
        ]

    def __str__(self) -> str:
        return self.name


class Token(Kept):
    """By which a script asks in the name of a person; it ends on a day."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="tokens")
    name = models.CharField(max_length=60)
    #: SHA-256 of the token; the token itself is not kept
    digest = models.CharField(max_length=64, unique=True)
    #: what it is good for, by ``tokens.SCOPES``
    scope = models.CharField(max_length=20)
    made_at = models.DateTimeField()
    expires_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.name} of {self.user.username}"


class Notice(Kept):
    """What somebody must know of their own account; it stands until they have read it."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="notices")
    at = models.DateTimeField()
    text = models.CharField(max_length=400)
    read_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"notice to {self.user.username}"


class SignInRules(Kept):
    """What the site asks of ways into accounts; one row, and the defaults while there is none."""

    class LinksBy(models.TextChoices):
        ONE = "one", "a planner or an administrator"
        ADMINISTRATOR = "administrator", "an administrator"
        TWO = "two", "two people who manage people"

    #: who makes links for others
    links_by = models.CharField(max_length=20, choices=LinksBy.choices, default=LinksBy.ONE)
    #: so long signatures and reviews of an account say that others opened a way into it [d]
    reset_days = models.PositiveSmallIntegerField(default=14)
    #: a PIN stands for the password at signatures and locks, on known devices
    pin = models.BooleanField(default=False)
    #: roles that need a second factor
    factor_roles = models.JSONField(default=list)

    def __str__(self) -> str:
        return "rules of the sign-in"


class KnownDevice(models.Model):
    """A device on which somebody signed in with all that was asked of them."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="devices")
    #: SHA-256 of what the device keeps; that itself is not kept here
    digest = models.CharField(max_length=64)
    seen_at = models.DateTimeField()
    #: wrong passwords in a row, and when the last one was
    wrong = models.PositiveSmallIntegerField(default=0)
    wrong_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["user", "digest"], name="one_device_a_person")
        ]

    def __str__(self) -> str:
        return f"device of {self.user.username}"


class Passkey(Kept):
    """A public key whose private half never leaves somebody's device (WebAuthn Level 2)."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="passkeys")
    name = models.CharField(max_length=60)
    #: as base64 for addresses (RFC 4648)
    credential = models.CharField(max_length=1400, unique=True)
    public_key = models.TextField()
    sign_count = models.PositiveBigIntegerField(default=0)
    made_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"passkey of {self.user.username}"


class CodeApp(Kept):
    """An app that shows a code of six digits, another each half minute (RFC 6238)."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="code_apps")
    #: encrypted with a key that is made of that of the sessions
    secret = models.CharField(max_length=200)
    #: the half minute of the code that was used last: none is good twice
    last_step = models.PositiveBigIntegerField(default=0)
    made_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"codes of {self.user.username}"


class RecoveryCode(Kept):
    """A code on paper, good once, for who lost a device."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="recovery_codes")
    digest = models.CharField(max_length=64)
    used_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"recovery code of {self.user.username}"


class Pin(Kept):
    """Six digits or more that stand for the password at signatures and locks."""

    user = models.OneToOneField(User, on_delete=models.PROTECT, related_name="pin")
    #: hashed as a password
    password = models.CharField(max_length=128)
    #: wrong ones in a row
    tries = models.PositiveSmallIntegerField(default=0)
    dead = models.BooleanField(default=False)
    made_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"PIN of {self.user.username}"
