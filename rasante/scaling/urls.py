"""Addresses of the line, transmitters, proofs and the board."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import api, chain_api, device_api, marks_api, slopes_api

router = SimpleRouter()
router.register("proofs", api.ProofViewSet)
router.register("mark-sets", marks_api.MarkSetViewSet)
router.register("rescalings", device_api.RescalingViewSet)
router.register("device-sheets", device_api.DeviceSheetViewSet)
urlpatterns = [
    path("board/", api.BoardView.as_view()),
    path("tanks/<int:pk>/stations/", api.StationsView.as_view()),
    path("tanks/<int:pk>/line/", api.LineView.as_view()),
    path("tanks/<int:pk>/curve/", api.CurveView.as_view()),
    path("tanks/<int:pk>/scale/", api.ScaleView.as_view()),
    path("tanks/<int:pk>/slopes/", slopes_api.SlopesView.as_view()),
    path("tanks/<int:pk>/chain/", chain_api.ChainView.as_view()),
    path("tanks/<int:pk>/chain/line/", chain_api.ChainLineView.as_view()),
    path("tanks/<int:pk>/chain/find/", chain_api.ChainFindView.as_view()),
    path("tanks/<int:pk>/parting/", chain_api.PartingView.as_view()),
    path("tanks/<int:pk>/wet-ends/", chain_api.WetEndsView.as_view()),
    path("tanks/<int:pk>/marks/", marks_api.MarksView.as_view()),
    path("tanks/<int:pk>/rescale/", device_api.RescaleView.as_view()),
    path("tanks/<int:pk>/rescalings/", device_api.TankRescalingsView.as_view()),
    path("tanks/<int:pk>/device-sheets/", device_api.TankSheetsView.as_view()),
    path("tanks/<int:pk>/proofs/", api.TankProofsView.as_view()),
    *router.urls,
]
