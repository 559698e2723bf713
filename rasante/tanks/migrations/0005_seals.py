"""Tables that were issued before there were seals get theirs."""

from django.db import migrations

from rasante.seals.triggers import seal_rows


class Migration(migrations.Migration):
    dependencies = [("tanks", "0004_revisions"), ("seals", "0001_initial")]
    operations = [seal_rows("tanks", "IssuedTable", "issued_at")]
