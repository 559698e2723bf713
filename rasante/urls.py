"""Every address: the API under /api/, the web app for everything else."""

from django.http import JsonResponse
from django.urls import include, path, re_path

from .http import service_worker, shell
from .visits.urls import public_patterns


def _schema(request):
    # What writes the schema is read in when somebody asks for it.
    from drf_spectacular.views import SpectacularAPIView

    return SpectacularAPIView.as_view()(request)


def _nothing_here(request, path=""):
    return JsonResponse({"problems": [{"where": "", "what": "there is no such address"}]}, status=404)


urlpatterns = [
    path("api/schema/", _schema, name="schema"),
    path("api/", include("rasante.accounts.urls")),
    path("api/", include("rasante.tanks.urls")),
    path("api/", include("rasante.gauges.urls")),
    path("api/", include("rasante.wiring.urls")),
    path("api/", include("rasante.scaling.urls")),
    path("api/", include("rasante.devices.urls")),
    path("api/", include("rasante.proving.urls")),
    path("api/", include("rasante.readings.urls")),
    path("api/", include("rasante.loading.urls")),
    path("api/", include("rasante.pouring.urls")),
    path("api/", include("rasante.faults.urls")),
    path("api/", include("rasante.register.urls")),
    path("api/", include("rasante.visits.urls")),
    path("api/", include("rasante.history.urls")),
    path("api/", include("rasante.board.urls")),
    # A line's end in an address is no address either.
    re_path(r"^api/(?P<path>[\s\S]*)$", _nothing_here),
    path("sw.js", service_worker),
    *public_patterns,
    re_path(r"^(?P<path>[\s\S]*)$", shell),
]
