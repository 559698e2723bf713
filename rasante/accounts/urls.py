"""Addresses of the session."""

from django.urls import path

from .api import SessionView

urlpatterns = [path("session/", SessionView.as_view())]
