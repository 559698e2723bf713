"""Wet ends come from scaling with their rows; the wiring has a room of its own now."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ('gauges', '0001_initial'),
        ('scaling', '0004_chains'),
        ('wiring', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='HistoricalWetEnds',
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
                        'db_table': 'scaling_historicalwetends',
                        'verbose_name': 'historical wet ends',
                        'verbose_name_plural': 'historical wet endss',
                        'ordering': ('-history_date', '-history_id'),
                        'get_latest_by': ('history_date', 'history_id'),
                    },
                    bases=(simple_history.models.HistoricalChanges, models.Model),
                ),
                migrations.CreateModel(
                    name='WetEnds',
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
                        'db_table': 'scaling_wetends',
                        'abstract': False,
                    },
                ),
                migrations.DeleteModel(name='HistoricalWiring'),
                migrations.DeleteModel(name='Wiring'),
            ],
        ),
        migrations.AlterModelTable(name="historicalwetends", table=None),
        migrations.AlterModelTable(name="wetends", table=None),
    ]
