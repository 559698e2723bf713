"""Addresses of sites, tanks, their tables, charts and profiles."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import chart_api, table_api
from .api import SiteViewSet, TankViewSet, WordsView
from .profile_api import ProfileViewSet

router = SimpleRouter()
router.register("sites", SiteViewSet)
router.register("tanks", TankViewSet)
router.register("profiles", ProfileViewSet)
urlpatterns = [
    path("words/", WordsView.as_view()),
    path("charts/preview/", chart_api.ChartPreviewView.as_view()),
    path("charts/<int:pk>/", chart_api.ChartView.as_view()),
    path("charts/tank/", chart_api.ChartTankView.as_view()),
    path("tanks/<int:pk>/charts/", chart_api.ChartsView.as_view()),
    path("tanks/<int:pk>/table/", table_api.TableView.as_view()),
    path("tanks/<int:pk>/budget/", table_api.BudgetView.as_view()),
    path("tanks/<int:pk>/contents/", table_api.ContentsView.as_view()),
    path("tanks/<int:pk>/points/", table_api.PointsView.as_view()),
    path("tanks/<int:pk>/issued/", table_api.IssuedTablesView.as_view()),
    path("tanks/<int:pk>/compare/", table_api.CompareView.as_view()),
    *(
        path(f"tanks/<int:pk>/table.{ending}/", table_api.TableFileView.as_view(ending=ending))
        for ending in ("csv", "xlsx", "json", "pdf")
    ),
    *(
        path(f"tanks/<int:pk>/points.{ending}/", table_api.PointsFileView.as_view(ending=ending))
        for ending in ("csv", "json")
    ),
    *router.urls,
]
