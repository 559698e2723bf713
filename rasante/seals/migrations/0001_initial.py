"""Seals, which the database itself refuses to change."""

from django.db import migrations, models

from rasante.seals.triggers import guards


class Migration(migrations.Migration):
    initial = True
    dependencies = []
    operations = [
        migrations.CreateModel(
            name="Seal",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("model", models.CharField(max_length=80)),
                ("record", models.BigIntegerField()),
                ("fields", models.JSONField()),
                ("digest", models.CharField(max_length=64)),
                ("link", models.CharField(max_length=64)),
                ("sealed_at", models.DateTimeField()),
            ],
            options={"ordering": ["id"]},
        ),
        migrations.AddConstraint(
            model_name="seal",
            constraint=models.UniqueConstraint(fields=("model", "record"), name="one_seal_a_record"),
        ),
        *guards("seals_seal", "a seal never changes"),
    ]
