"""Drafts name the stations that something is applied and read at; signed proofs stay as they are."""

from django.db import migrations

APPLIED = {"current": "arriving", "innage": "level"}
READ = {"current": "arriving"}


def name_places(apps, schema_editor):
    """Name them, in drafts alone."""
    Proof = apps.get_model("proving", "Proof")
    for proof in Proof.objects.filter(state="draft"):
        entries = dict(proof.entries)
        entries["applied_as"] = APPLIED.get(entries.get("applied_as"), entries.get("applied_as"))
        entries["read_as"] = READ.get(entries.get("read_as"), entries.get("read_as"))
        Proof.objects.filter(pk=proof.pk).update(entries=entries)


class Migration(migrations.Migration):
    dependencies = [("proving", "0001_initial")]
    operations = [migrations.RunPython(name_places, migrations.RunPython.noop)]
