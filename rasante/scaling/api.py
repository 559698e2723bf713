"""The line, transmitters, proofs and the board over HTTP."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response
from rest_framework.views import APIView

from ..core.errors import InputError
from ..core.scaling.line import MOVED_BY, find_line, read_line
from ..core.scaling.transmitter import check_transmitter, read_transmitter
from ..core.units import SYSTEMS
from ..http import attachment, checked, system_of
from ..tanks.models import Tank
from . import board, present, services, sheets
from . import serializers as forms
from .models import Proof

SYSTEM = OpenApiParameter("system", str, enum=SYSTEMS)


def _tank(pk: int) -> Tank:
    return get_object_or_404(Tank.objects.select_related("site"), pk=pk)


class BoardView(APIView):
    """The board."""

    @extend_schema(parameters=[SYSTEM], responses=forms.BoardSerializer, operation_id="board")
    def get(self, request):
        """Give every tank with its work, and what needs a person."""
        return Response(board.board(system_of(request)))


class StationsView(APIView):
    """How far the work on one tank has come."""

    @extend_schema(parameters=[SYSTEM], responses=forms.StationSerializer(many=True), operation_id="tank_stations")
    def get(self, request, pk: int):
        """Give its stations."""
        return Response(board.stations(get_object_or_404(board.tanks_with_work(), pk=pk), system_of(request)))


class LineView(APIView):
    """The line through one tank."""

    @extend_schema(
        parameters=[
            OpenApiParameter("by", str, enum=tuple(MOVED_BY), description="Which reading is known"),
            OpenApiParameter("text", str, description="Its value as typed"),
            SYSTEM,
        ],
        responses=forms.LineSerializer,
        operation_id="tank_line",
    )
    def get(self, request, pk: int):
        """Give all that reads at the level at which one reading is what was typed."""
        tank = _tank(pk)
        transmitter = services.transmitter_of(tank)
        scaled = transmitter.scaled if transmitter else None
        by, text = request.query_params.get("by", "innage"), request.query_params.get("text", "")
        innage = find_line(tank.file, scaled, by, text, system_of(request))
        return Response(present.line(read_line(tank.file, scaled, innage)))


class CurveView(APIView):
    """The nodes of one tank's curve."""

    @extend_schema(responses=forms.CurveSerializer, operation_id="tank_curve")
    def get(self, request, pk: int):
        """Give what a screen needs to follow the line without asking."""
        tank = _tank(pk)
        transmitter = services.transmitter_of(tank)
        return Response(present.curve(tank.file, transmitter.scaled if transmitter else None))


class ScaleView(APIView):
    """The scale of one tank."""

    def _answer(self, tank: Tank, transmitter, system: str) -> Response:
        judgements = services.judge_scale(tank, transmitter.scaled, system) if transmitter else []
        shown = forms.TransmitterSerializer(transmitter).data if transmitter else None
        marks = present.marks(transmitter.scaled, tank.file.tank) if transmitter else []
        return Response({"transmitter": shown, "marks": marks, "judgements": [asdict(j) for j in judgements]})

    @extend_schema(parameters=[SYSTEM], responses=forms.ScaleSerializer, operation_id="tank_scale_read")
    def get(self, request, pk: int):
        """Give its transmitter, if any, and how it fits."""
        tank = _tank(pk)
        return self._answer(tank, services.transmitter_of(tank), system_of(request))

    @extend_schema(
        request=forms.TransmitterInputSerializer, responses=forms.ScaleSerializer, operation_id="tank_scale_keep"
    )
    def put(self, request, pk: int):
        """Set its transmitter."""
        tank = _tank(pk)
        form = checked(forms.TransmitterInputSerializer, request)
        transmitter = services.scale_tank(
            tank, form["entries"], form["system"], form["serial"], request.user, form["revision"]
        )
        return self._answer(tank, transmitter, form["system"])

    @extend_schema(
        request=forms.TransmitterCheckSerializer,
        responses=forms.ScaleReadingSerializer,
        operation_id="tank_scale_check",
    )
    def post(self, request, pk: int):
        """Judge a transmitter as far as it has been typed; nothing is kept."""
        tank = _tank(pk)
        form = checked(forms.TransmitterCheckSerializer, request)
        try:
            document = read_transmitter(form["entries"], form["system"])
        except InputError as error:
            problems = [asdict(problem) for problem in error.problems]
            return Response({"understood": None, "problems": problems, "judgements": []})
        judgements = services.judge_scale(tank, check_transmitter(document), form["system"])
        understood = {key: document[key] for key in document if key.endswith("_mm")}
        return Response(
            {"understood": understood, "problems": [], "judgements": [asdict(found) for found in judgements]}
        )


class TankProofsView(APIView):
    """The proofs of one tank."""

    @extend_schema(responses=forms.ProofSerializer(many=True), operation_id="tank_proofs")
    def get(self, request, pk: int):
        """Give its latest proofs, the newest first; at most 50."""
        proofs = _tank(pk).proofs.select_related("tank", "made_by", "signed_by")[:50]
        return Response(forms.ProofSerializer(proofs, many=True).data)

    @extend_schema(
        request=forms.BeginProofSerializer, responses={201: forms.ProofSerializer}, operation_id="tank_proof_begin"
    )
    def post(self, request, pk: int):
        """Begin a proof."""
        form = checked(forms.BeginProofSerializer, request)
        proof = services.begin_proof(_tank(pk), form["system"], request.user)
        return Response(forms.ProofSerializer(proof).data, status=201)


class ProofViewSet(mixins.RetrieveModelMixin, viewsets.GenericViewSet):
    """Proofs."""

    serializer_class = forms.ProofSerializer
    queryset = Proof.objects.select_related("tank__site", "made_by", "signed_by")

    @extend_schema(request=forms.KeepDraftSerializer, responses=forms.ProofSerializer)
    def update(self, request, pk=None):
        """Keep what has been typed into a draft, right or wrong."""
        form = checked(forms.KeepDraftSerializer, request)
        return self._answer(services.keep_draft(self.get_object(), form["entries"], form["kept"]))

    @extend_schema(responses={204: None})
    def destroy(self, request, pk=None):
        """Delete a draft."""
        self.get_object().delete()
        return Response(status=204)

    @extend_schema(request=forms.ImportReadingsSerializer, responses=forms.ProofSerializer)
    @action(detail=True, methods=["post"], url_path="import")
    def import_readings(self, request, pk=None):
        """Replace a draft's points by those of a CSV file."""
        form = checked(forms.ImportReadingsSerializer, request)
        return self._answer(services.import_readings(self.get_object(), form["text"], form["kept"]))

    @extend_schema(request=forms.SignProofSerializer, responses=forms.ProofSerializer)
    @action(detail=True, methods=["post"])
    def sign(self, request, pk=None):
        """Sign a proof; from then on it never changes."""
        form = checked(forms.SignProofSerializer, request)
        return self._answer(services.sign_proof(self.get_object(), form["signature"], form["kept"], request.user))

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    @action(detail=True, url_path="record.pdf")
    def record_pdf(self, request, pk=None) -> HttpResponse:
        """Give the signed record as a sheet."""
        proof = self.get_object()
        if proof.state != Proof.SIGNED:
            raise InputError.at("", "this proof is a draft: sign it first, then it has a record")
        name = f"{proof.record['tank']['document']['name']} proof {proof.signed_at:%Y-%m-%d}.pdf"
        return attachment(sheets.proof_sheet(proof), "application/pdf", name)

    def _answer(self, proof: Proof) -> Response:
        return Response(self.get_serializer(proof).data)
