"""What every answer of the API is held to."""

from __future__ import annotations

from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

#: Nothing fails, nothing is answered that the document does not say, and what is said has its form.
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
