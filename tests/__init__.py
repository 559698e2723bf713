"""Tests. Generated examples are the same at every run; HYPOTHESIS_PROFILE=explore looks for new ones."""

import os

from hypothesis import settings

# No deadline: how fast a machine is says nothing of what is right.
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile("explore", derandomize=False, deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))
