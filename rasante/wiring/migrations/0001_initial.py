"""The wiring of a tank, taken over from the gauges with its rows: the table only gets another name."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ('gauges', '0001_initial'),
        ('tanks', '0003_issued_stays'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='HistoricalWiring',
                    fields=[
                        ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                        ('entries', models.JSONField(default=dict)),
                        ('document', models.JSONField(default=dict)),
                        ('summary', models.CharField(blank=True, max_length=300)),
                        ('pressing', models.BooleanField(default=False)),
                        ('tank_revision', models.PositiveIntegerField(default=1)),
                        ('revision', models.PositiveIntegerField(default=1)),
                        ('changed_at', models.DateTimeField(blank=True, editable=False)),
                        ('history_id', models.AutoField(primary_key=True, serialize=False)),
                        ('history_date', models.DateTimeField(db_index=True)),
                        ('history_change_reason', models.CharField(max_length=100, null=True)),
                        ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                        ('changed_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('tank', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='tanks.tank')),
                    ],
                    options={
                        'db_table': 'gauges_historicalwiring',
                        'verbose_name': 'historical wiring',
                        'verbose_name_plural': 'historical wirings',
                        'ordering': ('-history_date', '-history_id'),
                        'get_latest_by': ('history_date', 'history_id'),
                    },
                    bases=(simple_history.models.HistoricalChanges, models.Model),
                ),
                migrations.CreateModel(
                    name='Wiring',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('entries', models.JSONField(default=dict)),
                        ('document', models.JSONField(default=dict)),
                        ('summary', models.CharField(blank=True, max_length=300)),
                        ('pressing', models.BooleanField(default=False)),
                        ('tank_revision', models.PositiveIntegerField(default=1)),
                        ('revision', models.PositiveIntegerField(default=1)),
                        ('changed_at', models.DateTimeField(auto_now=True)),
                        ('changed_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('tank', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='%(class)s', to='tanks.tank')),
                    ],
                    options={
                        'db_table': 'gauges_wiring',
                        'abstract': False,
                    },
                ),
            ],
        ),
        migrations.AlterModelTable(name="historicalwiring", table=None),
        migrations.AlterModelTable(name="wiring", table=None),
    ]
