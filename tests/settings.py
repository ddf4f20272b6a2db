"""The settings of real servers in tests: the product's, with passwords that are quick to check.

In service each check takes most of a second of a processor, by design; people of the tests sign
in and sign a hundred times.
"""

from django.contrib.auth.hashers import PBKDF2PasswordHasher

from verifyloop.settings import *  # noqa: F403


class Quick(PBKDF2PasswordHasher):
    iterations = 1000


PASSWORD_HASHERS = ["tests.settings.Quick"]
