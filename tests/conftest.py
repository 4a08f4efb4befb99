"""How hypothesis runs: on the build server always with the same examples, so that a red run can be had again."""

from __future__ import annotations

import os

from hypothesis import settings

settings.register_profile("ci", derandomize=True, print_blob=True)
if os.environ.get("CI"):
    settings.load_profile("ci")
