"""Addresses of proofs."""

from django.urls import path
from rest_framework.routers import SimpleRouter

from . import api

router = SimpleRouter()
router.register("proofs", api.ProofViewSet)
urlpatterns = [path("tanks/<int:pk>/proofs/", api.TankProofsView.as_view()), *router.urls]
