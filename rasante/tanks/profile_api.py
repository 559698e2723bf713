"""Profiles over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema, extend_schema_view
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response

from ..answer import described
from ..http import checked
from . import answers, profiles
from . import table_serializers as forms
from .models import Profile
from .serializers import SurveySerializer


@extend_schema_view(list=extend_schema(description="All profiles, by capacity and overall diameter"))
class ProfileViewSet(
    mixins.ListModelMixin, mixins.RetrieveModelMixin, mixins.DestroyModelMixin, viewsets.GenericViewSet
):
    """Profiles."""

    serializer_class = forms.ProfileSerializer
    queryset = Profile.objects.select_related("changed_by").prefetch_related("tanks__site", "tanks__profile")

    @extend_schema(request=forms.NewProfileSerializer, responses={201: forms.ProfileSerializer})
    def create(self, request):
        """Save a tank's dimensions as a profile."""
        form = checked(forms.NewProfileSerializer, request)
        profile = profiles.save_profile(
            form["tank"],
            form["capacity"],
            form["overall_diameter"],
            form["notes"],
            form["system"],
            request.user,
        )
        return Response(self.get_serializer(profile).data, status=201)

    @extend_schema(request=SurveySerializer, responses=described(answers.Applied))
    @action(detail=True, methods=["post"])
    def apply(self, request, pk=None):
        """Give a survey's fields with the profile's dimensions in place of its own; nothing is kept."""
        form = checked(SurveySerializer, request)
        return Response(answers.Applied(entries=profiles.applied(self.get_object(), form["entries"])))

    @extend_schema(request=forms.ChangeProfileSerializer, responses=forms.ProfileSerializer)
    def update(self, request, pk=None):
        """Bring a profile up to date from a tank."""
        form = checked(forms.ChangeProfileSerializer, request)
        profile = profiles.change_profile(self.get_object(), form["tank"], form["revision"], request.user)
        return Response(self.get_serializer(profile).data)
