"""The application's settings for its tests: the same but for a quick hasher, and a database that is migrated once."""

from rasante.settings import *  # noqa: F403
from rasante.settings import DATABASES

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
DATABASES["default"]["ENGINE"] = "tests.sqlite"
