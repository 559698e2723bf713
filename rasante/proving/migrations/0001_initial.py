"""Proofs, taken over from scaling with their rows and with the triggers that keep signed ones as they are."""

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
                    name='Proof',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('state', models.CharField(choices=[('draft', 'Draft'), ('signed', 'Signed')], default='draft', max_length=10)),
                        ('entries', models.JSONField()),
                        ('system', models.CharField(default='metric', max_length=10)),
                        ('kept', models.PositiveIntegerField(default=1)),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('changed_at', models.DateTimeField(auto_now=True)),
                        ('signed_at', models.DateTimeField(blank=True, null=True)),
                        ('record', models.JSONField(blank=True, null=True)),
                        ('made_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('signed_by', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('tank', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='proofs', to='tanks.tank')),
                    ],
                    options={
                        'db_table': 'scaling_proof',
                        'ordering': ['-made_at', '-id'],
                    },
                ),
            ],
        ),
        migrations.AlterModelTable(name="proof", table=None),
    ]
