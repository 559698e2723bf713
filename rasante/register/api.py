"""The register over HTTP."""

from __future__ import annotations

from django.db.models import Count
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.quantities.errors import InputError
from ..http import PAGE_PARAMETERS, checked, paged, pages_of
from ..pictures import from_base64
from ..planned.api import tank_at
from ..tanks.models import Tank
from ..tanks.serializers import PictureSerializer
from . import answers, present, services
from . import serializers as forms
from .heard import with_heard
from .models import Customer, Device
from .scan import Scanned, scan
from .tank_list import import_tanks


def _customers():
    return Customer.objects.annotate(
        site_count=Count("sites", distinct=True), tank_count=Count("tanks", distinct=True)
    ).order_by("name", "branch", "id")


class CustomersView(APIView):
    """Customers."""

    @extend_schema(parameters=PAGE_PARAMETERS, responses=pages_of(forms.CustomerSerializer), operation_id="customers")
    def get(self, request):
        """Give them by name."""
        return paged(request, _customers(), forms.CustomerSerializer)

    @extend_schema(
        request=forms.KeepCustomerSerializer, responses={201: forms.CustomerSerializer}, operation_id="customer_make"
    )
    def post(self, request):
        """Make one."""
        form = checked(forms.KeepCustomerSerializer, request)
        form.pop("revision")
        return Response(forms.CustomerSerializer(services.keep_customer(form, request.user)).data, status=201)


class CustomerView(APIView):
    """One customer."""

    @extend_schema(
        request=forms.KeepCustomerSerializer, responses=forms.CustomerSerializer, operation_id="customer_change"
    )
    def put(self, request, pk: int):
        """Change what is noted of them."""
        form = checked(forms.KeepCustomerSerializer, request)
        revision = form.pop("revision")
        services.keep_customer(form, request.user, get_object_or_404(Customer, pk=pk), revision)
        return Response(forms.CustomerSerializer(_customers().get(pk=pk)).data)

    @extend_schema(responses={204: None}, operation_id="customer_delete")
    def delete(self, request, pk: int):
        """Delete one to whom nothing belongs."""
        services.delete_customer(get_object_or_404(Customer, pk=pk))
        return Response(status=204)


class TankListView(APIView):
    """A customer's tanks from a file."""

    @extend_schema(
        request=forms.TankListSerializer, responses={201: described(answers.MadeTanks)}, operation_id="customer_tanks"
    )
    def post(self, request, pk: int):
        """Make them: all, or none."""
        form = checked(forms.TankListSerializer, request)
        made = import_tanks(get_object_or_404(Customer, pk=pk), form["text"], request.user)
        return Response(answers.MadeTanks(made=[str(tank) for tank in made]), status=201)


class RegisterOfTankView(APIView):
    """Whose a tank is, and where."""

    @extend_schema(responses=described(answers.RegisterOfTank), operation_id="tank_register")
    def get(self, request, pk: int):
        """Give it, with what is still to be noted."""
        tank = tank_at(pk)
        return Response(present.register_of(tank, services.missing_facts(tank)))

    @extend_schema(
        request=forms.KeepRegisterSerializer,
        responses=described(answers.RegisterOfTank),
        operation_id="tank_register_keep",
    )
    def put(self, request, pk: int):
        """Keep it: of the tank and of its site."""
        form, tank = checked(forms.KeepRegisterSerializer, request), tank_at(pk)
        customer = None if form["customer"] is None else Customer.objects.filter(pk=form["customer"]).first()
        if form["customer"] is not None and customer is None:
            raise InputError.at("customer", "is not known: choose one, or make it first")
        own = {"owner": form["owner"], "customer": customer, "painted": form["painted"]}
        place = {name: form[name] for name in ("latitude", "longitude", "contact", "telephone")}
        services.keep_register(tank, own, place, request.user, form["revision"])
        return self.get(request, pk)


class DevicesView(APIView):
    """All devices."""

    @extend_schema(
        parameters=[
            *PAGE_PARAMETERS,
            OpenApiParameter("tank", int, description="On one tank"),
            OpenApiParameter("search", str, description="Part, serial or address"),
        ],
        responses=pages_of(forms.DeviceSerializer),
        operation_id="devices",
    )
    def get(self, request):
        """Give them by part and serial, with where each is and was."""
        rows = Device.objects.select_related("tank__site").prefetch_related("fittings__tank__site", "fittings__by")
        tank, search = request.query_params.get("tank", ""), request.query_params.get("search", "").strip()
        if tank:
            if not tank.isdecimal() or len(tank) > 15:
                raise InputError.at("tank", "must be the number of a tank")
            rows = rows.filter(tank=int(tank))
        if search:
            rows = (
                rows.filter(serial__icontains=search)
                | rows.filter(part__icontains=search)
                | rows.filter(address__icontains=search)
            )
        answer = paged(request, rows, forms.DeviceSerializer)
        answer.data["results"] = with_heard(answer.data["results"])
        return answer

    @extend_schema(
        request=forms.KeepDeviceSerializer, responses={201: forms.DeviceSerializer}, operation_id="device_make"
    )
    def post(self, request):
        """Make one, on the shelf."""
        form = checked(forms.KeepDeviceSerializer, request)
        form.pop("revision")
        return Response(forms.DeviceSerializer(services.keep_device(form, request.user)).data, status=201)


class DeviceView(APIView):
    """One device."""

    @extend_schema(request=forms.KeepDeviceSerializer, responses=forms.DeviceSerializer, operation_id="device_change")
    def put(self, request, pk: int):
        """Change what is noted of it."""
        form = checked(forms.KeepDeviceSerializer, request)
        revision = form.pop("revision")
        device = services.keep_device(form, request.user, get_object_or_404(Device, pk=pk), revision)
        return Response(forms.DeviceSerializer(device).data)


class MoveDeviceView(APIView):
    """Moving a device."""

    @extend_schema(request=forms.MoveDeviceSerializer, responses=forms.DeviceSerializer, operation_id="device_move")
    def post(self, request, pk: int):
        """Fit it on a tank, put it on the shelf, or out of use."""
        form = checked(forms.MoveDeviceSerializer, request)
        tank = None if form["tank"] is None else Tank.objects.filter(pk=form["tank"]).first()
        if form["tank"] is not None and tank is None:
            raise InputError.at("tank", "is not known")
        device = services.move_device(
            get_object_or_404(Device, pk=pk), form["state"], tank, form["why"], request.user, form["revision"]
        )
        return Response(forms.DeviceSerializer(device).data)


class ScanView(APIView):
    """Reading a label."""

    @extend_schema(request=PictureSerializer, responses=described(Scanned, many=True), operation_id="label_scan")
    def post(self, request):
        """Give what stands in every code of a picture."""
        form = checked(PictureSerializer, request)
        content = from_base64(form["picture"])
        return Response(scan(content))
