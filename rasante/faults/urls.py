"""Addresses of trouble."""

from django.urls import path

from . import api

urlpatterns = [
    path("tanks/<int:pk>/trouble/", api.CaseView.as_view()),
    path("tanks/<int:pk>/trouble/ahead/", api.AheadView.as_view()),
    path("tanks/<int:pk>/fault-cases/", api.FaultCasesView.as_view()),
    path("fault-cases/<int:pk>/case.json/", api.FaultCaseView.as_view()),
]
