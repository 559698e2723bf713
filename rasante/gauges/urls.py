"""Addresses of gauge models, gauges and wet ends."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import api

router = SimpleRouter()
router.register("gauge-models", api.GaugeModelViewSet)
urlpatterns = [
    path("gauge-words/", api.GaugeWordsView.as_view()),
    path("tanks/<int:pk>/gauge/", api.GaugeView.as_view()),
    path("tanks/<int:pk>/gauge/tilt/", api.TiltView.as_view()),
    path("tanks/<int:pk>/gauge/cut-sheet.pdf", api.CutSheetView.as_view()),
    path("tanks/<int:pk>/wet-ends/", api.WetEndsView.as_view()),
    *router.urls,
]
