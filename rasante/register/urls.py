"""Addresses of the register."""

from django.urls import path

from . import api

urlpatterns = [
    path("customers/", api.CustomersView.as_view()),
    path("customers/<int:pk>/", api.CustomerView.as_view()),
    path("customers/<int:pk>/tanks/", api.TankListView.as_view()),
    path("tanks/<int:pk>/register/", api.RegisterOfTankView.as_view()),
    path("devices/", api.DevicesView.as_view()),
    path("devices/<int:pk>/", api.DeviceView.as_view()),
    path("devices/<int:pk>/move/", api.MoveDeviceView.as_view()),
    path("scan/", api.ScanView.as_view()),
]
