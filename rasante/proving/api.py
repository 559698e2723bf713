"""Proofs over HTTP."""

from __future__ import annotations

from django.core.exceptions import PermissionDenied
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response
from rest_framework.views import APIView

from ..accounts.confirm import confirm_password
from ..accounts.permissions import may_delete
from ..core.quantities.errors import InputError
from ..http import PAGE_PARAMETERS, attachment, checked, paged, pages_of
from ..planned.api import tank_at
from ..scaling.chains import tanks_with_basis
from . import serializers as forms
from . import services, sheets
from .models import Proof


class TankProofsView(APIView):
    """The proofs of one tank."""

    @extend_schema(parameters=PAGE_PARAMETERS, responses=pages_of(forms.ProofSerializer), operation_id="tank_proofs")
    def get(self, request, pk: int):
        """Give its proofs, the newest first."""
        tank = get_object_or_404(tanks_with_basis(), pk=pk)
        # They are of one tank: what they are judged against is worked out once.
        judged = forms.Judged(tank)
        return paged(
            request, tank.proofs.select_related("made_by", "signed_by"), forms.ProofSerializer, judged=judged
        )

    @extend_schema(
        request=forms.BeginProofSerializer, responses={201: forms.ProofSerializer}, operation_id="tank_proof_begin"
    )
    def post(self, request, pk: int):
        """Begin a proof."""
        form = checked(forms.BeginProofSerializer, request)
        proof = services.begin_proof(tank_at(pk), form["system"], request.user)
        return Response(forms.ProofSerializer(proof).data, status=201)


class ProofViewSet(mixins.RetrieveModelMixin, viewsets.GenericViewSet):
    """Proofs."""

    serializer_class = forms.ProofSerializer
    own_may_be_deleted = True
    queryset = Proof.objects.select_related("tank__site", "made_by", "signed_by")

    @extend_schema(request=forms.KeepDraftSerializer, responses=forms.ProofSerializer)
    def update(self, request, pk=None):
        """Keep what has been typed into a draft, right or wrong."""
        form = checked(forms.KeepDraftSerializer, request)
        return self._answer(services.keep_draft(self.get_object(), form["entries"], form["kept"]))

    @extend_schema(responses={204: None})
    def destroy(self, request, pk=None):
        """Delete a draft: one's own, or any for a lead."""
        proof = self.get_object()
        if not may_delete(request.user, proof.made_by):
            raise PermissionDenied
        proof.delete()
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
        confirm_password(request, form["password"])
        seen = services.Basis(**form["basis"])
        return self._answer(
            services.sign_proof(self.get_object(), form["signature"], form["kept"], request.user, seen)
        )

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
