"""Addresses of sources, readings and events."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import api

router = SimpleRouter()
router.register("sources", api.SourceViewSet)
urlpatterns = [
    path("push/", api.PushView.as_view()),
    path("events/", api.EventsView.as_view()),
    path("events/<int:pk>/acknowledge/", api.AcknowledgeView.as_view()),
    path("tanks/<int:pk>/now/", api.NowView.as_view()),
    path("tanks/<int:pk>/takes/", api.TakesView.as_view()),
    path("tanks/<int:pk>/typed/", api.TypedView.as_view()),
    path("tanks/<int:pk>/watch/", api.WatchView.as_view()),
    *(
        path(f"tanks/<int:pk>/readings.{ending}/", api.ReadingsFileView.as_view(ending=ending))
        for ending in ("csv", "xlsx", "json")
    ),
    *router.urls,
]
