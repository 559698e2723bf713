"""Addresses of the board."""

from django.urls import path

from . import api

urlpatterns = [
    path("board/", api.BoardView.as_view()),
    path("tanks/<int:pk>/stations/", api.StationsView.as_view()),
]
