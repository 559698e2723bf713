"""Addresses of sites and tanks."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from .api import SiteViewSet, TankViewSet, WordsView

router = SimpleRouter()
router.register("sites", SiteViewSet)
router.register("tanks", TankViewSet)
urlpatterns = [path("words/", WordsView.as_view()), *router.urls]
