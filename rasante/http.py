"""What every page and API answer has in common: the shape of errors, JSON, pages of a list, the web app's shell."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any

import orjson
from django.conf import settings
from django.contrib.auth.views import redirect_to_login
from django.core.exceptions import ObjectDoesNotExist, PermissionDenied, RequestDataTooBig
from django.db import OperationalError
from django.db.models import ProtectedError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import ensure_csrf_cookie
from drf_spectacular.utils import OpenApiParameter, inline_serializer
from rest_framework import exceptions, pagination, parsers, renderers, serializers
from rest_framework.request import Request
from rest_framework.response import Response

from .answer import described
from .conflict import Conflict
from .core.quantities.errors import InputError, Problem
from .core.quantities.text import DEEPEST, bad_places, depth_of, refuse_what_cannot_be_kept
from .core.quantities.units import SYSTEMS, System


class JSONRenderer(renderers.BaseRenderer):
    """JSON by orjson: tables have tens of thousands of numbers."""

    media_type = "application/json"
    format = "json"
    charset = None

    def render(self, data: Any, accepted_media_type: str | None = None, renderer_context: Any = None) -> bytes:
        """Render `data`; an empty answer stays empty."""
        if data is None:
            return b""
        return orjson.dumps(data, option=orjson.OPT_SERIALIZE_NUMPY, default=str)


class JSONParser(parsers.JSONParser):
    """JSON that can be kept: UTF-8, no half characters or control signs, not nested beyond all measure."""

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        """Read a body, or refuse it with the place of what cannot be kept."""
        try:
            text = stream.read().decode("utf-8")
        except UnicodeDecodeError as error:
            raise InputError.at("", f"is no UTF-8: byte {error.start + 1} is no part of a character") from None
        if depth_of(text) > DEEPEST:
            raise InputError.at("", f"is nested more than {DEEPEST} deep: it is none of what is read here")
        data = super().parse(io.BytesIO(text.encode()), media_type, parser_context)
        refuse_what_cannot_be_kept(data)
        return data


class PlainAddresses:
    """Refuses an address with a half character or a control sign in it: none that is meant has such."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or say which part of the address cannot be read."""
        asked = {"": request.path, **{key: "".join(values) for key, values in request.GET.lists()}}
        bad = next(iter(bad_places(asked)), None)
        if bad is None:
            return self.get_response(request)
        problem = {"where": bad[0], "what": "the address has a sign that cannot be read: type it again"}
        return JsonResponse({"problems": [problem]}, status=400)


class Pages(pagination.PageNumberPagination):
    """Lists come in pages; ``?page_size=`` up to 200."""

    page_size_query_param = "page_size"
    max_page_size = 200


def page_number(request: Request, name: str = "page") -> int:
    """Return the number of the page that an address asks for, from 1."""
    text = request.query_params.get(name, "1")
    if not text.isdecimal() or not 1 <= int(text) <= 100_000:
        raise InputError.at(name, "must be the number of a page, from 1")
    return int(text)


def paged(request: Request, rows: Any, form: type[serializers.Serializer], **context: Any) -> Response:
    """Answer with one page of a list."""
    pages = Pages()
    found = pages.paginate_queryset(rows, request)
    return pages.get_paginated_response(form(found, many=True, context=context).data)


def pages_of(form: type) -> serializers.Serializer:
    """Return the form of such an answer, for the schema: of a serializer, or of a dataclass that is answered."""
    name = form.__name__.removesuffix("Serializer")
    return inline_serializer(
        f"PageOf{name}",
        {
            "count": serializers.IntegerField(),
            "next": serializers.URLField(allow_null=True),
            "previous": serializers.URLField(allow_null=True),
            "results": form(many=True)
            if issubclass(form, serializers.BaseSerializer)
            else described(form, many=True),
        },
    )


#: How a list is asked for by pages, for the schema.
PAGE_PARAMETERS = [
    OpenApiParameter("page", int, description="Which page, from 1"),
    OpenApiParameter("page_size", int, description="How many on one; at most 200"),
]


def _flatten(detail: Any, where: str = "") -> list[Problem]:
    if isinstance(detail, dict):
        found = []
        for key, inner in detail.items():
            name = "" if key in ("detail", "non_field_errors") else str(key)
            found += _flatten(inner, f"{where}.{name}" if where and name else where or name)
        return found
    if isinstance(detail, list | tuple):
        return [problem for inner in detail for problem in _flatten(inner, where)]
    return [Problem(where, str(detail))]


def problems_response(error: Exception, context: Any = None) -> Response | None:
    """Turn what went wrong into ``{"problems": [{"where", "what"}]}`` with the status that fits."""
    status, problems = 400, []
    if isinstance(error, InputError):
        problems = list(error.problems)
    elif isinstance(error, Conflict):
        status, problems = 409, [Problem("", str(error))]
    elif isinstance(error, ProtectedError):
        status, problems = (
            409,
            [Problem("", "it cannot be deleted: signed or issued records, visits, devices or readings refer to it")],
        )
    elif isinstance(error, RequestDataTooBig):
        status, problems = 413, [Problem("", "this is far too large: a tank file or a proof has at most 1 MB")]
    # A colleague may delete what this very answer is about.
    elif isinstance(error, Http404 | ObjectDoesNotExist):
        status, problems = 404, [Problem("", "there is no such thing here: it may have been deleted")]
    elif isinstance(error, PermissionDenied):
        status, problems = 403, [Problem("", "you may not do this")]
    elif isinstance(error, OperationalError) and "locked" in str(error):
        status, problems = 503, [Problem("", "the database is busy: try again in a moment")]
    elif isinstance(error, exceptions.NotAuthenticated):
        status, problems = 401, [Problem("", "sign in first")]
    elif isinstance(error, exceptions.APIException):
        status, problems = error.status_code, _flatten(error.detail)
    else:
        return None
    body = {"problems": [{"where": problem.where, "what": problem.what} for problem in problems]}
    how = getattr(error, "auth_header", None)
    return Response(body, status=status, headers={"WWW-Authenticate": how} if how else None)


#: What files are, by the end of their address.
FILE_TYPES = {
    "csv": "text/csv",
    "json": "application/json",
    "pdf": "application/pdf",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}
_PROBLEM = {
    "type": "object",
    "properties": {
        "where": {"type": "string", "description": "The field, by its path; empty where it is none"},
        "what": {"type": "string", "description": "What is wrong with it and what to do, in words"},
    },
    "required": ["where", "what"],
}


def with_refusals(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """Say in the API's document what every operation answers where it refuses; for drf-spectacular."""
    components = result.setdefault("components", {})
    components.setdefault("schemas", {})["Refusal"] = {
        "type": "object",
        "properties": {"problems": {"type": "array", "items": _PROBLEM}},
        "required": ["problems"],
    }
    refusal = {
        "description": "Refused: 400 at fields, 401 not signed in, 403 not allowed, 404 not there, 409 somebody has "
        "changed it meanwhile, 413 too large, 415 no JSON, 429 too often",
        "content": {"application/json": {"schema": {"$ref": "#/components/schemas/Refusal"}}},
    }
    for address, path in result["paths"].items():
        ending = address.strip("/").rpartition(".")[2]
        for operation in path.values():
            if not isinstance(operation, dict) or "responses" not in operation:
                continue
            operation["responses"]["4XX"] = refusal
            # One view writes a file in every kind; which it is stands at the end of its address.
            content = operation["responses"].get("200", {}).get("content", {})
            if ending in FILE_TYPES and "application/octet-stream" in content:
                file = content.pop("application/octet-stream")
                content[FILE_TYPES[ending]] = {"schema": {}} if ending == "json" else file
    return result


@ensure_csrf_cookie
def shell(request: HttpRequest, path: str = "") -> HttpResponse:
    """Serve the web app; whoever is not signed in gets only the page to do so."""
    if not request.user.is_authenticated and not request.path.startswith("/sign-in"):
        return redirect_to_login(request.get_full_path(), "/sign-in", "next")
    page = settings.WEBAPP / "index.html"
    if not page.exists():
        return HttpResponse(
            "The web app is not built yet: run `make web` and start again.", status=503, content_type="text/plain"
        )
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def service_worker(request: HttpRequest) -> HttpResponse:
    """Serve the script by which a browser keeps the app for where there is no network: from the root."""
    script = settings.WEBAPP / "sw.js"
    if not script.exists():
        return HttpResponse(status=404)
    response = HttpResponse(script.read_bytes(), content_type="text/javascript; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def checked(form_class: type[serializers.Serializer], request: Request) -> dict[str, Any]:
    """Return what was sent, in the form asked for, or refuse it at its fields."""
    form = form_class(data=request.data)
    form.is_valid(raise_exception=True)
    return form.validated_data


def system_of(request: Request) -> System:
    """Return the system of units that an address asks for, metric if it says nothing."""
    system = request.query_params.get("system", "metric")
    if system not in SYSTEMS:
        raise InputError.at("system", f"must be one of {', '.join(SYSTEMS)}")
    return system


def attachment(content: bytes | str, content_type: str, name: str) -> HttpResponse:
    """Answer with a file to keep."""
    from django.utils.text import slugify

    stem, _, ending = name.rpartition(".")
    response = HttpResponse(content, content_type=content_type)
    response["Content-Disposition"] = f'attachment; filename="{slugify(stem) or "rasante"}.{ending}"'
    return response
