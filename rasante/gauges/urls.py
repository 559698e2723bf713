"""Addresses of gauge models, gauges and wirings."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import api, wiring_api

router = SimpleRouter()
router.register("gauge-models", api.GaugeModelViewSet)
urlpatterns = [
    path("gauge-words/", api.GaugeWordsView.as_view()),
    path("ring-out/", wiring_api.RingOutView.as_view()),
    path("tanks/<int:pk>/gauge/", api.GaugeView.as_view()),
    path("tanks/<int:pk>/gauge/tilt/", api.TiltView.as_view()),
    path("tanks/<int:pk>/gauge/cut-sheet.pdf", api.CutSheetView.as_view()),
    path("tanks/<int:pk>/wiring/", wiring_api.WiringView.as_view()),
    path("tanks/<int:pk>/wiring/meter/", wiring_api.MeterView.as_view()),
    path("tanks/<int:pk>/wiring/sheet.pdf", wiring_api.WiringSheetView.as_view()),
    path("tanks/<int:pk>/wiring/drawing.svg", wiring_api.DrawingFileView.as_view()),
    path("tanks/<int:pk>/wiring/circuit.json", wiring_api.CircuitFileView.as_view()),
    *router.urls,
]
