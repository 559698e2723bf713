"""Tests. Generated examples are the same at every run; HYPOTHESIS_PROFILE=explore looks for new ones."""

import os

from hypothesis import settings

settings.register_profile("steady", derandomize=True)
settings.register_profile("explore", derandomize=False)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))
