"""What a customer sees by a link: one record, its photographs and, where allowed, the level now. Nothing else."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from ..core.quantities.words import Words
from ..core.readings.condition import CONDITIONS
from ..http import attachment
from ..readings.present import age_words
from ..readings.watching import now_of
from .handing_over import opened_by_link
from .models import CustomerLink
from .sheets import visit_pdf


def _level(link: CustomerLink) -> dict[str, str] | None:
    if not link.live:
        return None
    now = now_of(link.record.visit.tank)
    if now is None or now.level is None:
        return {"text": "no reading", "age": ""}
    w = Words("us" if link.record.document["system"] == "us" else "metric")
    volume = "" if now.volume is None else f", {w.volume(now.volume)}"
    age = age_words(timezone.now().timestamp() - now.at_s)
    return {"text": f"{w.length(now.level)}{volume}", "age": f"{age}, {CONDITIONS[now.condition.key]}"}


def _gone() -> HttpResponse:
    page = render_to_string("visits/gone.html")
    return HttpResponse(page, status=404)


@require_safe
@never_cache
def record_by_link(request: HttpRequest, token: str) -> HttpResponse:
    """Show the record that a link is for."""
    link = opened_by_link(token)
    if link is None:
        return _gone()
    said: dict[str, Any] = link.record.document
    context = {
        "said": said,
        "token": token,
        "name": said["tank"].get("name", ""),
        "signed": datetime.fromisoformat(said["signed_at"]),
        "level": _level(link),
        "steps": [step for step in said["steps"] if step["state"] != "skip"],
        "left_out": [step for step in said["steps"] if step["state"] == "skip"],
        "overridden": [gate for gate in said["gates"] if gate["reason"]],
    }
    answer = HttpResponse(render_to_string("visits/record.html", context))
    answer["Referrer-Policy"] = "no-referrer"
    answer["X-Robots-Tag"] = "noindex"
    return answer


@require_safe
@never_cache
def sheet_by_link(request: HttpRequest, token: str) -> HttpResponse:
    """Give the same record as a sheet."""
    link = opened_by_link(token)
    if link is None:
        return _gone()
    name = f"{link.record.document['tank'].get('name', '')} visit {link.record.document['number']}.pdf"
    return attachment(visit_pdf(link.record), "application/pdf", name)
