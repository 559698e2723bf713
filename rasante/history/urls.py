"""Addresses of the history."""

from django.urls import path

from .api import HistoryView

urlpatterns = [path("tanks/<int:pk>/history/", HistoryView.as_view())]
