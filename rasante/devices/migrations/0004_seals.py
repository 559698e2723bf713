"""What was written before there were seals gets its own."""

from django.db import migrations

from rasante.seals.triggers import seal_rows


class Migration(migrations.Migration):
    dependencies = [("devices", "0003_revisions"), ("seals", "0001_initial"), ("tanks", "0005_seals")]
    operations = [
        seal_rows("devices", "DeviceSheet", "made_at"),
        seal_rows("devices", "FoundSheet", "made_at"),
        seal_rows("devices", "Rescaling", "closed_at", closed_at__isnull=False),
    ]
