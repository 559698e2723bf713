"""Rescalings and device sheets, taken over from scaling with their rows: the tables only get other names."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ('scaling', '0004_chains'),
        ('tanks', '0003_issued_stays'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='DeviceSheet',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('number', models.PositiveIntegerField()),
                        ('document', models.JSONField()),
                        ('note', models.CharField(blank=True, max_length=300)),
                        ('made_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('tank', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='device_sheets', to='tanks.tank')),
                    ],
                    options={
                        'db_table': 'scaling_devicesheet',
                        'ordering': ['-number'],
                    },
                ),
                migrations.CreateModel(
                    name='FoundSheet',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('values', models.JSONField()),
                        ('note', models.CharField(blank=True, max_length=300)),
                        ('made_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('sheet', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='found', to='devices.devicesheet')),
                    ],
                    options={
                        'db_table': 'scaling_foundsheet',
                        'ordering': ['-made_at', '-id'],
                    },
                ),
                migrations.CreateModel(
                    name='Rescaling',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('why', models.CharField(max_length=300)),
                        ('before', models.JSONField()),
                        ('after', models.JSONField()),
                        ('document', models.JSONField()),
                        ('kept', models.PositiveIntegerField(default=1)),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('closed_at', models.DateTimeField(blank=True, null=True)),
                        ('closed_by', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('made_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('tank', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='rescalings', to='tanks.tank')),
                    ],
                    options={
                        'db_table': 'scaling_rescaling',
                        'ordering': ['-made_at', '-id'],
                    },
                ),
                migrations.AddConstraint(
                    model_name='devicesheet',
                    constraint=models.UniqueConstraint(fields=('tank', 'number'), name='one_sheet_a_number'),
                ),
            ],
        ),
        migrations.AlterModelTable(name="devicesheet", table=None),
        migrations.AlterModelTable(name="foundsheet", table=None),
        migrations.AlterModelTable(name="rescaling", table=None),
    ]
