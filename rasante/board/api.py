"""The board over HTTP."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..tanks.present import facts
from . import serializers as forms
from . import standings


class BoardView(APIView):
    """The board."""

    @extend_schema(responses=forms.BoardSerializer, operation_id="board")
    def get(self, request):
        """Give every tank with its work, and what needs a person."""
        found = standings.board()
        cards = [{**card, "facts": facts(card["file"])} for card in found["tanks"]]
        return Response({**found, "tanks": cards})


class StationsView(APIView):
    """How far the work on one tank has come."""

    @extend_schema(responses=forms.StationSerializer(many=True), operation_id="tank_stations")
    def get(self, request, pk: int):
        """Give its stations."""
        return Response(standings.stations(get_object_or_404(standings.tanks_with_work(), pk=pk)))
