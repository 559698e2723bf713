"""A tank's scale becomes the first hops of its chain: its two ends, its zero, its serial, and its history."""

import re

from django.db import migrations

#: Stations that were named otherwise.
STATIONS = {"signal": "arriving", "scaled": "number", "register": "words"}
HOPS = {"signal": "sent", "scaled": "number", "register": "words"}
QUANTITIES = {
    "Pressure of the liquid": "pressure",
    "Level above its zero": "level",
    "Distance down to the surface": "distance",
    "Capacitance counts, between its wet ends": "counts",
    "Echo time, there and back": "time",
}
FROM_THE_CHAIN = ("sensor.low", "sensor.high", "sensor.zero", "sensor.accuracy", "sensor.step")


def scale_entries(scale):
    """What a scale says of a chain, by the chain's entries."""
    typed = {key: text for key, text in (scale.entries or {}).items() if str(text).strip()}
    found = {"sensor.quantity": scale.document["reports"]}
    for path, key in (
        ("sensor.low", "value_at_4ma_mm"),
        ("sensor.high", "value_at_20ma_mm"),
        ("sensor.zero", "datum_offset_mm"),
    ):
        found[path] = str(typed.get(key) or f"{scale.document.get(key, 0.0)!r} mm")
    if scale.serial:
        found["sensor.serial"] = scale.serial
    return found


def whole_entries(scale, chain):
    """A chain's entries with what its scale said of those that nobody typed."""
    if scale is None:
        return dict(chain.entries)
    given = scale_entries(scale)
    settings = (chain.document or {}).get("settings", {})
    quantity = chain.entries.get("sensor.quantity") or QUANTITIES.get(settings.get("sensor.quantity", ""), "")
    if quantity and quantity != given["sensor.quantity"]:
        # The chain senses something else than the scale was written in: its own figures count.
        given = {key: given[key] for key in ("sensor.serial",) if key in given}
        given |= {"sensor.quantity": quantity}
        given |= {path: settings[path] for path in FROM_THE_CHAIN if settings.get(path)}
    return {**given, **{path: text for path, text in chain.entries.items() if str(text).strip()}}


def ends_of(scale, tank):
    """The innages at 4 and at 20 mA [mm], to a hundredth."""
    values = [scale.document["value_at_4ma_mm"], scale.document["value_at_20ma_mm"]]
    offset = scale.document.get("datum_offset_mm", 0.0)
    if scale.document["reports"] == "level":
        return [round(value + offset, 2) for value in values]
    from rasante.core.tanks.tank_file import check_document

    face = check_document(tank.document).tank.reference_height_m * 1000 + offset
    return [round(face - value, 2) for value in values]


def join_scales(apps, schema_editor):
    """Take every scale into its tank's chain, record by record."""
    Transmitter, Chain = apps.get_model("scaling", "Transmitter"), apps.get_model("scaling", "ScalingChain")
    OldScale = apps.get_model("scaling", "HistoricalTransmitter")
    OldChain = apps.get_model("scaling", "HistoricalScalingChain")
    for scale in Transmitter.objects.select_related("tank").order_by("pk"):
        chain = Chain.objects.filter(tank=scale.tank).first()
        entries = whole_entries(scale, chain) if chain is not None else scale_entries(scale)
        if chain is None:
            chain = Chain(
                tank=scale.tank,
                entries=entries,
                document={},
                summary="taken over from the tank's scale",
                tank_revision=scale.tank.revision,
                revision=scale.revision,
                changed_by=scale.changed_by,
            )
            chain.save()
            Chain.objects.filter(pk=chain.pk).update(changed_at=scale.changed_at)
        document = {**chain.document, "ends_mm": ends_of(scale, scale.tank)}
        Chain.objects.filter(pk=chain.pk).update(entries=entries, document=document)
        _join_history(OldScale, OldChain, scale, chain)


def _join_history(OldScale, OldChain, scale, chain):
    """Write the history of a scale among that of the chain, in the order in which it came to be."""
    events = [*OldScale.objects.filter(id=scale.pk), *OldChain.objects.filter(id=chain.pk)]
    events.sort(key=lambda event: (event.history_date, event.history_id))
    known, current, made = None, None, False
    for event in events:
        if hasattr(event, "serial"):
            known = event
            base = current
            entries = whole_entries(event, base) if base is not None else scale_entries(event)
            OldChain.objects.create(
                id=chain.pk,
                tank_id=chain.tank_id,
                entries=entries,
                document=base.document if base is not None else {},
                summary=base.summary if base is not None else "",
                pressing=base.pressing if base is not None else False,
                tank_revision=base.tank_revision if base is not None else chain.tank_revision,
                revision=base.revision if base is not None else event.revision,
                changed_at=event.changed_at,
                changed_by_id=event.changed_by_id,
                history_date=event.history_date,
                history_user_id=event.history_user_id,
                history_type="~" if made else "+",
                history_change_reason=event.history_change_reason,
            )
        else:
            current = event
            kind = "~" if made else event.history_type
            OldChain.objects.filter(pk=event.pk).update(entries=whole_entries(known, event), history_type=kind)
        made = True


def join_rescalings(apps, schema_editor):
    """A rescaling that is open closes into a whole chain; closed ones are records and stay."""
    Rescaling, Chain = apps.get_model("devices", "Rescaling"), apps.get_model("scaling", "ScalingChain")
    for rescaling in Rescaling.objects.filter(closed_at__isnull=True):
        chain = Chain.objects.filter(tank_id=rescaling.tank_id).first()
        if chain is None:
            continue
        scale = {path: text for path, text in chain.entries.items() if path.startswith("sensor.")}
        if rescaling.after.get("sensor.quantity", scale.get("sensor.quantity")) != scale.get("sensor.quantity"):
            scale = {path: text for path, text in scale.items() if path == "sensor.serial"}
        rescaling.before, rescaling.after = {**scale, **rescaling.before}, {**scale, **rescaling.after}
        rescaling.save(update_fields=["before", "after"])


def rename_stations(apps, schema_editor):
    """Readings along a chain name their stations as the chain does."""
    def renamed(entries):
        return {
            re.sub(r"(rows\[\d+\]\.)(signal|scaled|register)$", lambda m: m[1] + STATIONS[m[2]], path): text
            for path, text in entries.items()
        }

    for name in ("ChainReadings", "HistoricalChainReadings"):
        model = apps.get_model("scaling", name)
        for row in model.objects.all():
            hops = [HOPS.get(hop, hop) for hop in row.document.get("hops", [])]
            model.objects.filter(pk=row.pk).update(
                entries=renamed(row.entries), document={**row.document, "hops": hops}
            )


class Migration(migrations.Migration):
    dependencies = [
        ("scaling", "0005_rooms"),
        ("devices", "0001_initial"),
        ("tanks", "0003_issued_stays"),
    ]
    operations = [
        migrations.RunPython(join_scales, migrations.RunPython.noop),
        migrations.RunPython(join_rescalings, migrations.RunPython.noop),
        migrations.RunPython(rename_stations, migrations.RunPython.noop),
        migrations.DeleteModel(name="HistoricalTransmitter"),
        migrations.DeleteModel(name="Transmitter"),
    ]
