"""What has a room of its own now is no longer scaling's."""

from django.conf import settings
from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [
        ('scaling', '0004_chains'),
        ('devices', '0001_initial'),
        ('proving', '0001_initial'),
        ('gauges', '0002_wet_ends'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.DeleteModel(name='FoundSheet'),
                migrations.DeleteModel(name='DeviceSheet'),
                migrations.DeleteModel(name='Rescaling'),
                migrations.DeleteModel(name='Proof'),
                migrations.DeleteModel(name='HistoricalWetEnds'),
                migrations.DeleteModel(name='WetEnds'),
            ],
        ),
    ]
