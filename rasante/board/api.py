"""The board over HTTP."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.conf import settings
from django.db.models import F
from django.db.models.fields.json import KeyTextTransform
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..accounts.models import LEAD, role_of
from ..answer import described
from ..backup import last_backup
from ..http import page_number
from ..readings.watching import newest_levels
from ..tanks.models import Tank
from ..tanks.present import written_facts
from . import answers
from .keeping import renew_standings
from .models import Call, Standing
from .standings import stations, tanks_with_work

#: How many calls for a person, and how many tanks, are shown at once.
CALLS, CARDS = 60, 30
#: From when on the age of the last backup asks for a person [days].
OLD_BACKUP_DAYS = 2


def _backup() -> answers.Backup:
    """Tell how old the last backup is, and whether that asks for somebody."""
    at = last_backup(settings.DATA)
    days = None if at is None else (timezone.now() - at).total_seconds() / 86400
    return answers.Backup(at=at, age_days=days, pressing=days is None or days > OLD_BACKUP_DAYS)


def _aged(level: dict[str, Any] | None) -> dict[str, Any] | None:
    if level is None:
        return None
    age = timezone.now() - datetime.fromisoformat(level["at"])
    return {**level, "age_days": age.total_seconds() / 86400, "read": False, "live": False}


def _is_watched(standing: Standing) -> bool:
    """Whether anything sends of a tank."""
    return any(one["key"] == "watch" and one["state"] != "not started" for one in standing.stations)


class BoardView(APIView):
    """The board."""

    @extend_schema(
        parameters=[
            OpenApiParameter("page", int, description="Page of tanks, from 1"),
            OpenApiParameter("calls_page", int, description="Page of what needs a person, from 1"),
        ],
        responses=described(answers.Board),
        operation_id="board",
    )
    def get(self, request):
        """Give a page of tanks, those that need a person first, and a page of what needs one."""
        tanks_from, calls_from = (page_number(request) - 1) * CARDS, (page_number(request, "calls_page") - 1) * CALLS
        renew_standings()
        standings = Standing.objects.select_related("tank__site")[tanks_from : tanks_from + CARDS]
        calls = Call.objects.values(
            "station",
            "words",
            "state",
            tank=F("standing__tank_id"),
            name=KeyTextTransform("name", "standing__tank__document"),
            site_name=F("standing__tank__site__name"),
        )[calls_from : calls_from + CALLS]
        standings = list(standings)
        # Those that nothing sends of need not be asked for.
        heard = [one.tank for one in standings if _is_watched(one)]
        read = newest_levels(heard) if heard else {}
        return Response(
            answers.Board(
                attention=list(calls),
                calls_a_page=CALLS,
                tanks_a_page=CARDS,
                attention_count=Call.objects.count(),
                tanks=[
                    answers.Card(
                        id=standing.tank_id,
                        site_name=standing.tank.site.name,
                        facts=written_facts(standing.tank.document),
                        stations=standing.stations,
                        level=read.get(standing.tank_id) or _aged(standing.level),
                    )
                    for standing in standings
                ],
                tank_count=Standing.objects.count(),
                backup=_backup() if role_of(request.user) == LEAD else None,
            )
        )


class StationsView(APIView):
    """How far the work on one tank has come."""

    @extend_schema(responses=described(answers.Station, many=True), operation_id="tank_stations")
    def get(self, request, pk: int):
        """Give its stations."""
        tank = get_object_or_404(Tank, pk=pk)
        renew_standings()
        standing = Standing.objects.filter(tank=tank).first()
        # Somebody may keep something of it at this very moment: then it is worked out for this answer alone.
        return Response(standing.stations if standing else stations(tanks_with_work().get(pk=pk)))
