"""How hypothesis runs: `make test` always with the same examples, so that a red run can be had again; `make fuzz` with
new ones.
"""

from __future__ import annotations

import os

from hypothesis import settings

settings.register_profile("same", derandomize=True, print_blob=True)
settings.register_profile("fuzz", print_blob=True)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "same"))
