"""Addresses of wirings: a tank's circuit, the meter on it, and a cable rung out."""

from django.urls import path

from . import api

urlpatterns = [
    path("wiring-words/", api.WiringWordsView.as_view()),
    path("circuits/choices/", api.CircuitChoicesView.as_view()),
    path("ring-out/", api.RingOutView.as_view()),
    path("tanks/<int:pk>/wiring/", api.WiringView.as_view()),
    path("tanks/<int:pk>/wiring/meter/", api.MeterView.as_view()),
    path("tanks/<int:pk>/wiring/sheet.pdf", api.WiringSheetView.as_view()),
    path("tanks/<int:pk>/wiring/drawing.svg", api.DrawingFileView.as_view()),
    path("tanks/<int:pk>/wiring/circuit.json", api.CircuitFileView.as_view()),
]
