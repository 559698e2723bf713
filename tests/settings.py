"""The application's settings for its tests: the same but for a quick hasher of passwords."""

from rasante.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
