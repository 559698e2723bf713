"""Sources, readings and events over HTTP."""

from __future__ import annotations

import time
from datetime import UTC, datetime
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import exceptions, parsers, permissions, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.quantities.errors import InputError
from ..core.quantities.units import SYSTEMS
from ..core.readings.channels import KINDS, UNIT_NAMES
from ..core.readings.source_form import FUNCTIONS, SOURCES
from ..core.scaling.marks import MARKS
from ..core.scaling.registers import ORDERS, TYPES
from ..http import FILE_TYPES, attachment, checked, system_of
from ..planned.api import tank_at
from ..planned.serializers import PlannedSerializer
from ..scaling.marking import marks_of
from . import answers, events, export, present, services, typed, watching
from . import serializers as forms
from .intake import Told, through_of
from .models import Event, Source
from .moves import moves_of, transfers_at
from .pushing import push_in, read_body
from .taking import takes_of
from .trying import hops_of, try_source

SYSTEM = OpenApiParameter("system", str, enum=SYSTEMS)
SPAN = [
    OpenApiParameter("from", str, description="ISO 8601 with a zone; a day before the end, if it is missing"),
    OpenApiParameter("to", str, description="ISO 8601 with a zone; now, if it is missing"),
]
_LONGEST_S = 20 * 366 * 86400.0


def _moment(request, name: str, otherwise: float) -> float:
    text = request.query_params.get(name, "")
    if not text:
        return otherwise
    try:
        moment = datetime.fromisoformat(text)
        if moment.tzinfo is None:
            raise ValueError
        return moment.timestamp()
    except (ValueError, OverflowError):
        raise InputError.at(name, "must be ISO 8601 with a zone: 2025-06-01T12:00:00Z") from None


def _span(request) -> tuple[float, float]:
    end = _moment(request, "to", time.time())
    begin = _moment(request, "from", end - 86400)
    if not begin < end <= begin + _LONGEST_S:
        raise InputError.at("from", "must lie before the end, by twenty years at most")
    return begin, end


class SourceViewSet(viewsets.GenericViewSet):
    """Sources of readings."""

    pagination_class = None
    queryset = Source.objects.select_related("state", "changed_by").prefetch_related(
        "channels__tank", "channels__source"
    )

    def _answer(self, source: Source, status: int = 200) -> Response:
        return Response(present.source(self.get_queryset().get(pk=source.pk)), status=status)

    @extend_schema(responses=forms.SourceListSerializer, operation_id="sources")
    def list(self, request):
        """Give all of them."""
        return Response(
            {
                "sources": [present.source(one) for one in self.get_queryset()],
                "kinds": SOURCES,
                "channel_kinds": KINDS,
                "functions": FUNCTIONS,
                "types": {key: one.name for key, one in TYPES.items()},
                "orders": ORDERS,
                "units": UNIT_NAMES,
            }
        )

    @extend_schema(
        request=forms.KeepSourceSerializer, responses={201: described(answers.Source)}, operation_id="source_make"
    )
    def create(self, request):
        """Make one."""
        form = checked(forms.KeepSourceSerializer, request)
        made = services.keep_source(None, form["entries"], form["system"], request.user, 0)
        return self._answer(made, 201)

    @extend_schema(responses=described(answers.Source), operation_id="source_read")
    def retrieve(self, request, pk=None):
        """Give one."""
        return Response(present.source(self.get_object()))

    @extend_schema(
        request=forms.KeepSourceSerializer, responses=described(answers.Source), operation_id="source_keep"
    )
    def update(self, request, pk=None):
        """Change one."""
        form = checked(forms.KeepSourceSerializer, request)
        return self._answer(
            services.keep_source(self.get_object(), form["entries"], form["system"], request.user, form["revision"])
        )

    @extend_schema(responses={204: None}, operation_id="source_delete")
    def destroy(self, request, pk=None):
        """Take one away that never brought anything."""
        services.delete_source(self.get_object())
        return Response(status=204)

    @extend_schema(request=PlannedSerializer, responses=described(answers.SourceForm), operation_id="source_check")
    @action(detail=False, methods=["post"])
    def check(self, request):
        """Tell what was made of a source as far as it has been typed; nothing is kept."""
        form = checked(PlannedSerializer, request)
        return Response(present.source_form(form["entries"], form["system"]))

    @extend_schema(request=forms.SwitchSerializer, responses=described(answers.Source), operation_id="source_switch")
    @action(detail=True, methods=["post"])
    def switch(self, request, pk=None):
        """Switch one on or off."""
        form = checked(forms.SwitchSerializer, request)
        return self._answer(services.switch(self.get_object(), form["on"], request.user, form["revision"]))

    @extend_schema(
        request=None, responses=described(answers.Token), operation_id="source_renew_token", methods=["post"]
    )
    @extend_schema(responses=described(answers.Source), operation_id="source_revoke_token", methods=["delete"])
    @action(detail=True, methods=["post", "delete"])
    def token(self, request, pk=None):
        """Give one a new token, shown now and never again; or take its token away."""
        if request.method == "DELETE":
            return self._answer(services.revoke_token(self.get_object(), request.user))
        source, token = services.renew_token(self.get_object(), request.user)
        return Response(answers.Token(token=token, source=present.source(self.get_queryset().get(pk=source.pk))))

    @extend_schema(parameters=[SYSTEM], request=None, responses=described(answers.Trial), operation_id="source_try")
    @action(detail=True, methods=["post"], url_path="try")
    def try_once(self, request, pk=None):
        """Read it once and show every hop; nothing is kept."""
        system = system_of(request)
        problem, found = try_source(self.get_object())
        values = []
        for one in found:
            chain, hops = hops_of(one.channel, one.value)
            values.append(present.polled(one, hops, chain, system))
        return Response(answers.Trial(problem=problem, values=values))

    @extend_schema(
        request=forms.LogFileSerializer, responses=forms.LogPreviewSerializer, operation_id="source_file_look"
    )
    @action(detail=True, methods=["post"], url_path="file/look")
    def file_look(self, request, pk=None):
        """Look at a logger's file; nothing is kept."""
        form = checked(forms.LogFileSerializer, request)
        grid = typed.grid_of_log(form["text"], form["workbook"])
        mapping = None if form["mapping"] is None else typed.mapping_of(form["mapping"])
        return Response(typed.look_at_log(self._of_files(), grid, mapping))

    @extend_schema(request=forms.LogFileSerializer, responses=described(Told), operation_id="source_file_keep")
    @action(detail=True, methods=["post"], url_path="file")
    def file_keep(self, request, pk=None):
        """Keep the readings of a logger's file."""
        form = checked(forms.LogFileSerializer, request)
        if form["mapping"] is None:
            raise InputError.at("mapping", "say how the file is to be read: look at it first")
        grid = typed.grid_of_log(form["text"], form["workbook"])
        told = typed.keep_log(self._of_files(), grid, typed.mapping_of(form["mapping"]))
        return Response(told)

    def _of_files(self) -> Source:
        source = self.get_object()
        if source.kind != "csv":
            raise InputError.at("", f"{source} does not take files: make a source of the kind CSV")
        return source


class BodyParser(parsers.BaseParser):
    """The body as it came: it may be large, and is read once."""

    media_type = "application/json"

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> bytes:
        """Read it."""
        return bytes(stream.read())


class NotKnown(exceptions.NotAuthenticated):
    """A push with no token, or with one that is not known."""

    default_detail = "this token is not known: it may have been renewed or revoked"


class PushView(APIView):
    """What units send by themselves."""

    authentication_classes: list[Any] = []
    permission_classes = [permissions.AllowAny]
    parser_classes = [BodyParser]

    source: Source

    def initial(self, request, *args, **kwargs) -> None:
        """Know whose readings these are before anything else is looked at."""
        super().initial(request, *args, **kwargs)
        scheme, _, token = request.headers.get("Authorization", "").partition(" ")
        source = services.source_by_token(token.strip()) if scheme.casefold() == "bearer" else None
        if source is None:
            raise NotKnown
        self.source = source

    def get_authenticate_header(self, request) -> str:
        """Say how to be known, so that a refusal is 401."""
        return "Bearer"

    @extend_schema(
        request=forms.PushSerializer, responses=described(Told), operation_id="push", auth=[{"bearer": []}]
    )
    def post(self, request):
        """Take in readings; what was acknowledged is kept, once, however often it is sent."""
        told = push_in(self.source, read_body(request.data))
        if told.refused and not told.new and not told.again:
            raise InputError.at("readings", " ".join(told.refused))
        return Response(told)


class NowView(APIView):
    """What a tank has now."""

    @extend_schema(responses=described(answers.NowAnswer), operation_id="tank_now")
    def get(self, request, pk: int):
        """Give its newest reading, with what it is doing."""
        tank = tank_at(pk)
        return Response(answers.NowAnswer(now=present.now(watching.now_of(tank))))


class TakesView(APIView):
    """The live values of a tank."""

    @extend_schema(parameters=[SYSTEM], responses=described(answers.Takes), operation_id="tank_takes")
    def get(self, request, pk: int):
        """Give them, each with whether it stands still."""
        tank, system = tank_at(pk), system_of(request)
        chain = through_of(tank).chain
        return Response(
            answers.Takes(
                takes=[
                    answers.Take(
                        station=one.channel.kind,
                        channel=one.channel.pk,
                        source=f"{one.channel.source.name}, {one.channel.name}",
                        text=present.taken_text(one.channel, chain, one.raw, system),
                        at=datetime.fromtimestamp(one.now.at_s, UTC),
                        age=present.age_words(one.now.condition.age_s),
                        still=one.still,
                        live=one.now.condition.live,
                        words=one.words,
                    )
                    for one in takes_of(tank)
                ]
            )
        )


class TypedView(APIView):
    """Readings typed by hand."""

    @extend_schema(
        request=forms.TypedReadingSerializer,
        responses={201: described(Told)},
        operation_id="tank_reading_type",
    )
    def post(self, request, pk: int):
        """Keep a dip, or what a display shows."""
        form = checked(forms.TypedReadingSerializer, request)
        told = typed.add_typed(tank_at(pk), form["what"], form["text"], form["at"], form["system"], request.user)
        return Response(told, status=201)


class WatchView(APIView):
    """What a tank's readings show over a span."""

    @extend_schema(parameters=[*SPAN, SYSTEM], responses=described(answers.Watch), operation_id="tank_watch")
    def get(self, request, pk: int):
        """Give its series, what came and went, its marks and its events."""
        tank, system = tank_at(pk), system_of(request)
        begin, end = _span(request)
        channels = watching.channels_at(tank)
        shown = [watching.series(channel, begin, end) for channel in channels]
        anew = watching.as_now(channels[0], shown[0]) if channels and len(shown[0].times) else None
        kept, moves = marks_of(tank), moves_of(tank, begin, end)
        told = Event.objects.filter(tank=tank).select_related(
            "tank__site", "channel__source", "source", "acknowledged_by"
        )
        return Response(
            answers.Watch(
                begin=datetime.fromtimestamp(begin, UTC),
                end=datetime.fromtimestamp(end, UTC),
                series=[present.series(one) for one in shown],
                as_now=None
                if anew is None
                else answers.AsNow(
                    at=anew["times"].tolist(),
                    level_mm=present.listed(anew["values"], 1000),
                    volume_l=present.listed(anew["volumes"], 1000),
                ),
                moves=present.moves(moves),
                transfers=[present.transfer(one) for one in transfers_at(tank, moves, begin, end)],
                marks=[
                    answers.WatchMark(
                        key=mark["key"],
                        label=MARKS[mark["key"]],
                        level_mm=mark["level_m"] * 1000,
                        volume_l=mark["volume_m3"] * 1000,
                    )
                    for mark in (kept.document["marks"] if kept else [])
                ],
                events=[present.event(one, system) for one in told[:50]],
                now=present.now(watching.now_of(tank)),
            )
        )


class ReadingsFileView(APIView):
    """A tank's readings as a file."""

    ending = "csv"

    @extend_schema(
        parameters=[*SPAN, OpenApiParameter("size", str, enum=list(export.SIZES), description="raw, or rolled up")],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY},
    )
    def get(self, request, pk: int) -> HttpResponse:
        """Give them."""
        tank = tank_at(pk)
        columns, rows = export.rows_of(tank, request.query_params.get("size", "raw"), *_span(request))
        if self.ending == "xlsx":
            content: bytes | str = export.to_xlsx(columns, rows, tank.name)
        else:
            content = export.to_csv(columns, rows) if self.ending == "csv" else export.to_json(tank, columns, rows)
        return attachment(content, FILE_TYPES[self.ending], f"{tank.name} readings.{self.ending}")


class EventsView(APIView):
    """The events that ask for a person, or are not over."""

    @extend_schema(parameters=[SYSTEM], responses=described(answers.EventList), operation_id="events")
    def get(self, request):
        """Give the newest two hundred."""
        system = system_of(request)
        return Response(answers.EventList(events=[present.event(one, system) for one in events.open_events()[:200]]))


class AcknowledgeView(APIView):
    """An event acknowledged."""

    @extend_schema(
        parameters=[SYSTEM],
        request=forms.AcknowledgeSerializer,
        responses=described(answers.Event),
        operation_id="event_acknowledge",
    )
    def post(self, request, pk: int):
        """Acknowledge it with a word."""
        form = checked(forms.AcknowledgeSerializer, request)
        event = get_object_or_404(events.with_all(Event.objects.all()), pk=pk)
        return Response(present.event(events.acknowledge(event, form["word"], request.user), system_of(request)))
