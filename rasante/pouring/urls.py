"""Addresses of pours."""

from django.urls import path

from . import api

urlpatterns = [
    path("tanks/<int:pk>/pours/", api.RunView.as_view()),
    path("tanks/<int:pk>/pours/file/", api.PourFileView.as_view()),
    path("tanks/<int:pk>/pours/seen/", api.SeenDeliveriesView.as_view()),
    path("tanks/<int:pk>/pour-records/", api.PourRecordsView.as_view()),
    path("pour-records/<int:pk>/pours.json/", api.PourRecordView.as_view()),
    path("pour-records/<int:pk>/table.csv/", api.DeviceTableView.as_view()),
]
