"""Visits over HTTP."""

from __future__ import annotations

import json

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..accounts.confirm import confirm_password
from ..accounts.permissions import OnlyLeads
from ..answer import described
from ..core.procedures.step import FORMAT, read_steps
from ..core.quantities.errors import InputError
from ..http import PAGE_PARAMETERS, Pages, attachment, checked, pages_of
from ..pictures import from_base64
from ..planned.api import tank_at
from . import answers, entering, handing_over, mailing, photos, present, services, sheets
from . import serializers as forms
from .course import course_of, preview, proposed_facts
from .models import CustomerLink, Photo, Visit, VisitRecord
from .record import digest_of, record_document
from .shows import show_step


def _visit(pk: int) -> Visit:
    rows = Visit.objects.select_related("tank__site", "opened_by", "record")
    return get_object_or_404(rows, pk=pk)


def _record(pk: int) -> VisitRecord:
    return get_object_or_404(VisitRecord.objects.select_related("visit__tank__site"), visit_id=pk)


def _answer(visit: Visit, status: int = 200) -> Response:
    return Response(present.visit(course_of(_visit(visit.pk))), status=status)


class VisitsView(APIView):
    """All visits."""

    @extend_schema(
        parameters=[
            *PAGE_PARAMETERS,
            OpenApiParameter("tank", int, description="Of one tank"),
            OpenApiParameter("state", str, enum=[key for key, _ in Visit.STATES]),
        ],
        responses=pages_of(answers.VisitInList),
        operation_id="visits",
    )
    def get(self, request):
        """Give visits, those opened last first."""
        rows = Visit.objects.select_related("tank__site", "opened_by")
        tank, state = request.query_params.get("tank", ""), request.query_params.get("state", "")
        if tank:
            if not tank.isdecimal() or len(tank) > 15:
                raise InputError.at("tank", "must be the number of a tank")
            rows = rows.filter(tank=int(tank))
        if state:
            rows = rows.filter(state=state)
        pages = Pages()
        return pages.get_paginated_response([present.in_list(one) for one in pages.paginate_queryset(rows, request)])

    @extend_schema(
        request=forms.OpenVisitSerializer, responses={201: described(answers.Visit)}, operation_id="visit_open"
    )
    def post(self, request):
        """Open a visit."""
        form = checked(forms.OpenVisitSerializer, request)
        tank = tank_at(form["tank"])
        visit = services.open_visit(tank, form["facts"], form["system"], request.user, form["planned_at"])
        return _answer(visit, 201)


class ProposedVisitView(APIView):
    """What a visit to one tank may be opened with."""

    @extend_schema(responses=described(answers.ProposedVisit), operation_id="tank_visit_proposed")
    def get(self, request, pk: int):
        """Give the facts to choose from, and those that the tank's plans propose."""
        return Response(present.proposed(proposed_facts(tank_at(pk))))

    @extend_schema(
        request=forms.PreviewFactsSerializer, responses=described(answers.Preview), operation_id="tank_visit_preview"
    )
    def post(self, request, pk: int):
        """Tell what a visit with these facts would be; nothing is opened."""
        form = checked(forms.PreviewFactsSerializer, request)
        return Response(present.preview(preview(tank_at(pk), form["facts"], services.own_steps().steps)))


class VisitView(APIView):
    """One visit."""

    @extend_schema(responses=described(answers.Visit), operation_id="visit_read")
    def get(self, request, pk: int):
        """Give it as it stands."""
        return _answer(_visit(pk))

    @extend_schema(
        request=forms.ChangeFactsSerializer, responses=described(answers.Visit), operation_id="visit_change"
    )
    def put(self, request, pk: int):
        """Change its facts: its steps follow."""
        form = checked(forms.ChangeFactsSerializer, request)
        return _answer(services.change_facts(_visit(pk), form["facts"], form["revision"]))


class DropVisitView(APIView):
    """Dropping a visit that will not be made."""

    @extend_schema(request=forms.RevisionSerializer, responses=described(answers.Visit), operation_id="visit_drop")
    def post(self, request, pk: int):
        """Drop it; what was done at it is kept."""
        form = checked(forms.RevisionSerializer, request)
        return _answer(services.drop_visit(_visit(pk), form["revision"]))


class EntriesView(APIView):
    """What is done at a visit."""

    @extend_schema(request=forms.EnterSerializer, responses=described(answers.Visit), operation_id="visit_enter")
    def post(self, request, pk: int):
        """Enter what was done at a step; sent twice, it is entered once."""
        form = checked(forms.EnterSerializer, request)
        visit = entering.enter(
            _visit(pk), form["uid"], form["step"], form["did"], form["values"], form["reason"], form["at"],
            form["begun_at"], form["system"], request.user,
        )  # fmt: skip
        return _answer(visit)


class StepView(APIView):
    """One step while something is typed at it."""

    @extend_schema(
        request=forms.TypedStepSerializer, responses=described(answers.Shown), operation_id="visit_step_check"
    )
    def post(self, request, pk: int, key: str):
        """Read what is typed, and give what the stations compute from it; nothing is kept."""
        form = checked(forms.TypedStepSerializer, request)
        visit = _visit(pk)
        course = course_of(visit)
        step = course.procedure.step(key)
        kept, wrong, outside = entering.check_values(step, form["values"], form["system"])
        problems = {one.where: one.what for one in [*wrong, *outside] if form["values"].get(one.where, "").strip()}
        rows = []
        for field in step.fields:
            typed = form["values"].get(field.to, "").strip()
            state = "wrong" if field.to in problems else "read" if typed else "empty"
            rows.append(
                answers.ReadField(
                    to=field.to, state=state, says=kept.get(field.to, ""), problem=problems.get(field.to, "")
                )
            )
        shown = show_step(course, step, {**form["values"], **kept}, form["system"])
        return Response(present.shown(shown, rows, form["system"]))


class PhotosView(APIView):
    """The photographs of a visit."""

    @extend_schema(
        request=forms.AddPhotoSerializer, responses={201: described(answers.Photo)}, operation_id="visit_photo_add"
    )
    def post(self, request, pk: int):
        """Add one; sent twice, it is kept once."""
        form = checked(forms.AddPhotoSerializer, request)
        content = from_base64(form["picture"])
        photo = photos.add_photo(
            _visit(pk), form["uid"], form["step"], content, form["note"], form["keep_place"], form["at"], request.user
        )
        return Response(present.photo(photo), status=201)


class PhotoView(APIView):
    """One photograph."""

    @extend_schema(responses={(200, "image/jpeg"): OpenApiTypes.BINARY}, operation_id="visit_photo")
    def get(self, request, pk: int) -> HttpResponse:
        """Give the picture."""
        photo = get_object_or_404(Photo, pk=pk)
        answer = HttpResponse(bytes(photo.jpeg), content_type="image/jpeg")
        answer["Cache-Control"] = "private, max-age=31536000, immutable"
        return answer


class SignVisitView(APIView):
    """Signing a visit."""

    @extend_schema(request=forms.SignVisitSerializer, responses=described(answers.Visit), operation_id="visit_sign")
    def post(self, request, pk: int):
        """Sign it; from then on it never changes."""
        form = checked(forms.SignVisitSerializer, request)
        confirm_password(request, form["password"])
        record = handing_over.sign_visit(_visit(pk), form["signature"], form["seen"], request.user)
        return _answer(record.visit)


class RecordView(APIView):
    """What a visit's record holds: as it would be signed now, or as it was."""

    @extend_schema(responses=described(answers.Recorded), operation_id="visit_recorded")
    def get(self, request, pk: int):
        """Give it; whoever signs sends its digest along."""
        visit = _visit(pk)
        record = getattr(visit, "record", None)
        document = record_document(course_of(visit), request.user) if record is None else record.document
        return Response({**document, "seen": digest_of(document)})


class RecordSheetView(APIView):
    """A signed visit, printed."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY}, operation_id="visit_sheet")
    def get(self, request, pk: int) -> HttpResponse:
        """Give its record as a sheet to keep."""
        record = _record(pk)
        name = f"{record.document['tank'].get('name', '')} visit {record.document['number']}.pdf"
        return attachment(sheets.visit_pdf(record), "application/pdf", name)


class RecordFileView(APIView):
    """A signed visit as a file."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT}, operation_id="visit_file")
    def get(self, request, pk: int) -> HttpResponse:
        """Give everything of its record."""
        record = _record(pk)
        text = json.dumps(record.document, ensure_ascii=False, indent=1)
        name = f"{record.document['tank'].get('name', '')} visit {record.document['number']}.json"
        return attachment(text, "application/json", name)


class LinksView(APIView):
    """The links by which customers read a record."""

    @extend_schema(responses=described(answers.CustomerLink, many=True), operation_id="visit_links")
    def get(self, request, pk: int):
        """Give them, with how often each was opened."""
        return Response([present.link(one) for one in _record(pk).links.select_related("made_by")])

    @extend_schema(
        request=forms.MakeLinkSerializer,
        responses={201: described(answers.CustomerLink)},
        operation_id="visit_link_make",
    )
    def post(self, request, pk: int):
        """Make one; what stands in it is shown once."""
        form = checked(forms.MakeLinkSerializer, request)
        link, token = handing_over.make_link(_record(pk), form["days"], form["live"], form["note"], request.user)
        return Response(present.link(link, token), status=201)


class WithdrawLinkView(APIView):
    """Withdrawing a link."""

    @extend_schema(request=None, responses=described(answers.CustomerLink), operation_id="visit_link_withdraw")
    def post(self, request, pk: int):
        """Withdraw it: it opens nothing from now on."""
        return Response(present.link(handing_over.withdraw_link(get_object_or_404(CustomerLink, pk=pk))))


class MailView(APIView):
    """A record by e-mail."""

    @extend_schema(request=forms.MailSerializer, responses={204: None}, operation_id="visit_mail")
    def post(self, request, pk: int):
        """Send it."""
        form = checked(forms.MailSerializer, request)
        mailing.send_record(_record(pk), form["to"], form["note"])
        return Response(status=204)


class SentMailView(APIView):
    """What was written into files instead of being sent."""

    @extend_schema(responses=described(answers.SentMail, many=True), operation_id="sent_mail")
    def get(self, request):
        """Give the newest first; nothing where mail is really sent."""
        return Response(mailing.sent())


class OwnStepsView(APIView):
    """The shop's own steps."""

    permission_classes = (OnlyLeads,)

    @extend_schema(responses=forms.OwnStepsSerializer, operation_id="own_steps")
    def get(self, request):
        """Give them as a file."""
        kept = services.own_steps()
        text = json.dumps({"format": FORMAT, "steps": kept.steps}, ensure_ascii=False, indent=1)
        return Response({"text": text, "revision": kept.revision})

    @extend_schema(
        request=forms.OwnStepsSerializer, responses=forms.OwnStepsSerializer, operation_id="own_steps_keep"
    )
    def put(self, request):
        """Keep them; visits that are open stay as they are."""
        form = checked(forms.OwnStepsSerializer, request)
        services.keep_own_steps(read_steps(form["text"]), request.user, form["revision"])
        return self.get(request)
