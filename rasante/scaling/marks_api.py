"""Marks over HTTP: a tank's own, and the sets that are applied to tanks of a kind."""

from __future__ import annotations

from dataclasses import asdict

from drf_spectacular.utils import extend_schema
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response

from ..answer import described
from ..core.scaling.marks import MARKS, PUMPS, Mark
from ..http import checked
from ..planned.api import PlannedView, kept_plan, planned_schema, tank_at
from ..planned.present import fields
from ..planned.serializers import PlannedSerializer
from ..tanks.models import Tank
from ..tanks.present import judgements
from . import answers, marking
from . import marks_serializers as forms
from .models import Marks, MarkSet


@planned_schema("tank_marks", forms.KeptMarksSerializer)
class MarksView(PlannedView):
    """The marks of one tank."""

    planned_of, keep_planned = marking.marks_of, marking.keep_marks

    def answer(self, planned: Marks | None, tank: Tank) -> dict:
        """Write what is kept, and where it stands by the table."""
        marks = [marking.mark_document(Mark(**mark)) for mark in planned.document["marks"]] if planned else []
        number = planned.table_number if planned else 0
        return {**kept_plan(planned, tank), "table_number": number, "marks": marks}

    @extend_schema(request=PlannedSerializer, responses=described(answers.Marks), operation_id="tank_marks_check")
    def post(self, request, pk: int):
        """Place and judge marks as far as they have been typed; nothing is kept."""
        tank = tank_at(pk)
        form = checked(PlannedSerializer, request)
        found = marking.read_tank_marks(tank, form["entries"], form["system"])
        moved = [
            answers.Moved(
                **{key: value for key, value in asdict(one).items() if key not in ("level_m", "volume_m3")},
                level_mm=None if one.level_m is None else one.level_m * 1000,
                volume_l=None if one.volume_m3 is None else one.volume_m3 * 1000,
            )
            for one in marking.moved_marks(tank, form["system"])
        ]
        return Response(
            answers.Marks(
                fields_read=fields(found.form),
                names=MARKS,
                pumps=PUMPS,
                marks=[marking.mark_document(mark) for mark in found.marks],
                to_brim_min=None if found.to_brim_s is None else found.to_brim_s / 60,
                table_number=marking.table_number(tank),
                moved=moved,
                judgements=judgements(found.judgements, form["system"]),
            )
        )


class MarkSetViewSet(mixins.ListModelMixin, mixins.DestroyModelMixin, viewsets.GenericViewSet):
    """Saved sets of marks."""

    serializer_class = forms.MarkSetSerializer
    queryset = MarkSet.objects.select_related("made_by")
    pagination_class = None

    @extend_schema(request=forms.SaveSetSerializer, responses={201: forms.MarkSetSerializer})
    def create(self, request):
        """Save marks under a name; a name that is known is saved anew."""
        form = checked(forms.SaveSetSerializer, request)
        saved = marking.save_set(form["name"], form["entries"], request.user, form["revision"])
        return Response(self.get_serializer(saved).data, status=201)

    @extend_schema(request=forms.UndoSetSerializer, responses=forms.MarkSetSerializer)
    @action(detail=True, methods=["post"])
    def undo(self, request, pk=None):
        """Bring a set back to what was saved over."""
        form = checked(forms.UndoSetSerializer, request)
        return Response(self.get_serializer(marking.undo_set(self.get_object(), form["revision"], request.user)).data)
