"""Signing in and out."""

from __future__ import annotations

from django.contrib.auth import authenticate, login, logout
from django.http import JsonResponse
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.response import Response
from rest_framework.views import APIView

from ..core.quantities.errors import InputError
from .models import name_of, role_of


class PersonSerializer(serializers.Serializer):
    """The person who is signed in."""

    username = serializers.CharField()
    name = serializers.CharField()
    role = serializers.ChoiceField(["technician", "lead"])


class SessionSerializer(serializers.Serializer):
    """Who is signed in, if anyone."""

    person = PersonSerializer(allow_null=True)


class SignInSerializer(serializers.Serializer):
    """What is asked at the door."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


def locked_out(request, response=None, credentials=None, *args, **kwargs):
    """Answer to one sign-in too many."""
    what = "too many wrong passwords: wait 15 minutes, then try again"
    return JsonResponse({"problems": [{"where": "password", "what": what}]}, status=429)


def _session(user) -> dict:
    if not user.is_authenticated:
        return {"person": None}
    return {"person": {"username": user.username, "name": name_of(user), "role": role_of(user)}}


@method_decorator(ensure_csrf_cookie, name="get")
@method_decorator(csrf_protect, name="post")
class SessionView(APIView):
    """The session of this browser."""

    permission_classes = [AllowAny]

    @extend_schema(responses=SessionSerializer, operation_id="session_read")
    def get(self, request):
        """Tell who is signed in."""
        return Response(_session(request.user))

    @extend_schema(request=SignInSerializer, responses=SessionSerializer, operation_id="session_sign_in")
    def post(self, request):
        """Sign in."""
        form = SignInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        user = authenticate(request._request, **form.validated_data)
        if user is None:
            if getattr(request._request, "axes_locked_out", False):
                return locked_out(request)
            raise InputError.at("password", "this name and password do not go together: check both")
        login(request._request, user)
        return Response(_session(user))

    @extend_schema(request=None, responses={204: None}, operation_id="session_sign_out")
    def delete(self, request):
        """Sign out."""
        logout(request._request)
        return Response(status=204)
