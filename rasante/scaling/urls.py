"""Addresses of the line, chains, slopes and marks."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import chain_api, line_api, marks_api, slopes_api

router = SimpleRouter()
router.register("mark-sets", marks_api.MarkSetViewSet)
urlpatterns = [
    path("tanks/<int:pk>/line/", line_api.LineView.as_view()),
    path("tanks/<int:pk>/curve/", line_api.CurveView.as_view()),
    path("tanks/<int:pk>/slopes/", slopes_api.SlopesView.as_view()),
    path("tanks/<int:pk>/chain/", chain_api.ChainView.as_view()),
    path("tanks/<int:pk>/chain/line/", chain_api.ChainLineView.as_view()),
    path("tanks/<int:pk>/chain/find/", chain_api.ChainFindView.as_view()),
    path("tanks/<int:pk>/parting/", chain_api.PartingView.as_view()),
    path("tanks/<int:pk>/marks/", marks_api.MarksView.as_view()),
    *router.urls,
]
