"""The database itself refuses to change or delete device sheets, what was found, and closed rescalings."""

from django.conf import settings
from django.db import migrations, models
from django.db.models.deletion import PROTECT

GUARD = """
CREATE TRIGGER {table}_{verb} BEFORE {verb} ON {table} {when}
BEGIN SELECT RAISE(ABORT, '{why}'); END;
"""
KEPT = (
    ("devices_devicesheet", "", "a device sheet never changes: write a new one"),
    ("devices_foundsheet", "", "what was found never changes: read it back again"),
    ("devices_rescaling", "WHEN OLD.closed_at IS NOT NULL", "a closed rescaling never changes: begin a new one"),
)


def person(**keys):
    return models.ForeignKey(null=True, on_delete=PROTECT, related_name="+", to=settings.AUTH_USER_MODEL, **keys)


def owner(name, to):
    return models.ForeignKey(on_delete=PROTECT, related_name=name, to=to)


class Migration(migrations.Migration):
    dependencies = [
        ("devices", "0001_initial"),
        ("tanks", "0003_issued_stays"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.AlterField("devicesheet", "made_by", person()),
        migrations.AlterField("devicesheet", "tank", owner("device_sheets", "tanks.tank")),
        migrations.AlterField("foundsheet", "made_by", person()),
        migrations.AlterField("foundsheet", "sheet", owner("found", "devices.devicesheet")),
        migrations.AlterField("rescaling", "closed_by", person(blank=True)),
        migrations.AlterField("rescaling", "made_by", person()),
        migrations.AlterField("rescaling", "tank", owner("rescalings", "tanks.tank")),
        *(
            migrations.RunSQL(
                GUARD.format(table=table, verb=verb, when=when, why=why), f"DROP TRIGGER {table}_{verb}"
            )
            for table, when, why in KEPT
            for verb in ("UPDATE", "DELETE")
        ),
    ]
