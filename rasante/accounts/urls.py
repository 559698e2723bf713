"""Addresses of the session and of the people."""

from django.urls import include, path
from rest_framework.routers import SimpleRouter

from . import api

router = SimpleRouter()
router.register("people", api.PeopleViewSet, basename="person")
urlpatterns = [
    path("session/", api.SessionView.as_view()),
    path("session/password/", api.PasswordView.as_view()),
    path("session/devices/", api.SignInsView.as_view()),
    path("session/devices/<int:pk>/", api.SignInView.as_view()),
    path("", include(router.urls)),
]
