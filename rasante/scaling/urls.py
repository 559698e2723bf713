"""Addresses of the line, transmitters, proofs and the board."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import api, slopes_api

router = SimpleRouter()
router.register("proofs", api.ProofViewSet)
urlpatterns = [
    path("board/", api.BoardView.as_view()),
    path("tanks/<int:pk>/stations/", api.StationsView.as_view()),
    path("tanks/<int:pk>/line/", api.LineView.as_view()),
    path("tanks/<int:pk>/curve/", api.CurveView.as_view()),
    path("tanks/<int:pk>/scale/", api.ScaleView.as_view()),
    path("tanks/<int:pk>/slopes/", slopes_api.SlopesView.as_view()),
    path("tanks/<int:pk>/proofs/", api.TankProofsView.as_view()),
    *router.urls,
]
