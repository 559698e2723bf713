"""How fields are written for the API."""

from __future__ import annotations

from ..core.quantities.form import Form, FormField


def fields(form: Form) -> list[FormField]:
    """Write what was made of each field that applies, typed or not."""
    return list(form.fields.values())
