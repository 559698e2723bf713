"""Addresses of rescalings and device sheets."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import api

router = SimpleRouter()
router.register("rescalings", api.RescalingViewSet)
router.register("device-sheets", api.DeviceSheetViewSet)
urlpatterns = [
    path("tanks/<int:pk>/rescale/", api.RescaleView.as_view()),
    path("tanks/<int:pk>/rescalings/", api.TankRescalingsView.as_view()),
    path("tanks/<int:pk>/device-sheets/", api.TankSheetsView.as_view()),
    *router.urls,
]
