"""Generated requests over every operation: no server error, no undocumented answer, no hang (`make test-long`).

The application runs in this process on the demo shelf; the description it gives of itself says what to ask and what may
be answered.
"""

from __future__ import annotations

import os
import tempfile
import time
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from nailhead.demo.shelf import fill_shelf
from nailhead.store.database import Database
from nailhead.web.app import create_app

#: Seconds after which an answer is a hang.
LONGEST = 5
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]

_FOLDER = tempfile.TemporaryDirectory()
_DATABASE = Database(Path(_FOLDER.name) / "x.sqlite3")
fill_shelf(_DATABASE)
schema = schemathesis.openapi.from_asgi("/openapi.json", create_app(_DATABASE), headers={"Host": "localhost"})


@schema.parametrize()
@settings(max_examples=int(os.environ.get("EXAMPLES", "200")), deadline=None, suppress_health_check=list(HealthCheck))
def test_every_operation(case: schemathesis.Case) -> None:
    """Whatever is sent, the answer is one that is described, and soon."""
    begun = time.perf_counter()
    response = case.call(headers={"Host": "localhost"})
    assert time.perf_counter() - begun < LONGEST, case.as_curl_command()
    case.validate_response(response, checks=CHECKS)
