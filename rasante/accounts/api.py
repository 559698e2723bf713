"""Signing in and out, one's own account, and the people who may sign in."""

from __future__ import annotations

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.models import User
from django.http import JsonResponse
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.permissions import AllowAny
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.quantities.errors import InputError
from ..http import checked
from . import answers, services
from . import serializers as forms
from .confirm import confirm_password
from .models import name_of, role_of
from .permissions import OnlyLeads


def locked_out(request, response=None, credentials=None, *args, **kwargs):
    """Answer to one sign-in too many."""
    what = "too many wrong passwords: wait 15 minutes, then try again"
    return JsonResponse({"problems": [{"where": "password", "what": what}]}, status=429)


def _address(request) -> str:
    return request.META.get("REMOTE_ADDR", "")


def _note(request, user) -> None:
    services.note_sign_in(
        user, request.session.session_key, request.META.get("HTTP_USER_AGENT", ""), _address(request)
    )


def _session(user) -> answers.Session:
    if not user.is_authenticated:
        return answers.Session(person=None)
    return answers.Session(person=answers.Person(username=user.username, name=name_of(user), role=role_of(user)))


@method_decorator(ensure_csrf_cookie, name="get")
@method_decorator(csrf_protect, name="post")
class SessionView(APIView):
    """The session of this browser."""

    permission_classes = [AllowAny]

    @extend_schema(responses=described(answers.Session), operation_id="session_read")
    def get(self, request):
        """Tell who is signed in."""
        return Response(_session(request.user))

    @extend_schema(
        request=forms.SignInSerializer, responses=described(answers.Session), operation_id="session_sign_in"
    )
    def post(self, request):
        """Sign in."""
        form = checked(forms.SignInSerializer, request)
        plain = request._request
        if services.too_many_from(_address(plain)):
            return locked_out(request)
        user = authenticate(plain, **form)
        if user is None:
            if getattr(plain, "axes_locked_out", False):
                return locked_out(request)
            raise InputError.at("password", "this name and password do not go together: check both")
        login(plain, user)
        _note(plain, user)
        return Response(_session(user))

    @extend_schema(request=None, responses={204: None}, operation_id="session_sign_out")
    def delete(self, request):
        """Sign out."""
        logout(request._request)
        return Response(status=204)


class PasswordView(APIView):
    """One's own password."""

    @extend_schema(request=forms.OwnPasswordSerializer, responses={204: None}, operation_id="own_password")
    def post(self, request):
        """Change it; other devices are signed out by that."""
        form = checked(forms.OwnPasswordSerializer, request)
        confirm_password(request, form["password"])
        person = services.change_own_password(request.user, form["new"])
        plain = request._request
        services.end_sign_ins(person, but=plain.session.session_key)
        update_session_auth_hash(plain, person)
        _note(plain, person)
        return Response(status=204)


class SignInsView(APIView):
    """Where one is signed in."""

    own_may_be_deleted = True

    @extend_schema(responses=forms.SignInPlaceSerializer(many=True), operation_id="own_sign_ins")
    def get(self, request):
        """Give every device, this one first."""
        here = request._request.session.session_key
        places = services.sign_ins_of(request.user)
        places.sort(key=lambda one: one.session != here)
        form = forms.SignInPlaceSerializer(places, many=True, context={"here": here})
        return Response(form.data)

    @extend_schema(request=None, responses={204: None}, operation_id="own_sign_ins_end")
    def delete(self, request):
        """Sign out on every other device."""
        services.end_sign_ins(request.user, but=request._request.session.session_key)
        return Response(status=204)


class SignInView(APIView):
    """One device on which one is signed in."""

    own_may_be_deleted = True

    @extend_schema(request=None, responses={204: None}, operation_id="own_sign_in_end")
    def delete(self, request, pk: int):
        """Sign out there."""
        if services.end_sign_ins(request.user, only=pk) == 0:
            raise InputError.at("", "this device is signed out already")
        return Response(status=204)


class PeopleViewSet(mixins.ListModelMixin, mixins.RetrieveModelMixin, viewsets.GenericViewSet):
    """The people who may sign in; for leads."""

    permission_classes = [OnlyLeads]
    serializer_class = forms.PersonRowSerializer
    queryset = User.objects.prefetch_related("groups").order_by("first_name", "last_name", "id")

    @extend_schema(request=forms.NewPersonSerializer, responses={201: forms.PersonRowSerializer})
    def create(self, request):
        """Add a person."""
        form = checked(forms.NewPersonSerializer, request)
        person = services.make_person(form["username"], form["name"], form["password"], form["role"], checked=True)
        return Response(self.get_serializer(person).data, status=201)

    @extend_schema(request=forms.ChangePersonSerializer, responses=forms.PersonRowSerializer)
    def update(self, request, pk=None):
        """Rename a person, give another role, shut out or let in again."""
        form = checked(forms.ChangePersonSerializer, request)
        wanted, was = (services.Standing(**form[key]) for key in ("wanted", "was"))
        person = services.change_person(self.get_object(), wanted, was, request.user)
        return Response(self.get_serializer(person).data)

    @extend_schema(request=forms.ResetPasswordSerializer, responses={204: None})
    @action(detail=True, methods=["post"])
    def password(self, request, pk=None):
        """Give a person another password; they are signed out everywhere."""
        form = checked(forms.ResetPasswordSerializer, request)
        services.reset_password(self.get_object(), form["password"], request.user)
        return Response(status=204)
