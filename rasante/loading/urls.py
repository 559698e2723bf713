"""Addresses of loads."""

from django.urls import path

from . import api

urlpatterns = [
    path("tanks/<int:pk>/load/", api.LoadView.as_view()),
    path("tanks/<int:pk>/loads/", api.LoadsView.as_view()),
    path("loads/<int:pk>/sheet.pdf/", api.LoadSheetView.as_view()),
]
