"""Proofs that were signed before there were seals get theirs."""

from django.db import migrations

from rasante.seals.triggers import seal_rows


class Migration(migrations.Migration):
    dependencies = [("proving", "0002_places"), ("seals", "0001_initial"), ("tanks", "0005_seals")]
    operations = [seal_rows("proving", "Proof", "signed_at", state="signed")]
