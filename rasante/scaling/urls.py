"""Addresses of the line, chains, slopes and marks."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import bare_api, chain_api, line_api, marks_api, slopes_api

router = SimpleRouter()
router.register("mark-sets", marks_api.MarkSetViewSet)
urlpatterns = [
    path("line/", bare_api.BareLineView.as_view()),
    path("line/tank/", bare_api.BareTankView.as_view()),
    path("line/finding/", bare_api.BareFindingView.as_view()),
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
