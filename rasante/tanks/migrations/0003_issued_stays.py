"""The database itself refuses to change or delete an issued table, whoever asks."""

from django.db import migrations

GUARD = """
CREATE TRIGGER tanks_issuedtable_{verb} BEFORE {verb} ON tanks_issuedtable
BEGIN SELECT RAISE(ABORT, 'an issued table never changes: issue a new revision'); END;
"""


class Migration(migrations.Migration):
    dependencies = [("tanks", "0002_profiles_and_issued_tables")]
    operations = [
        migrations.RunSQL(GUARD.format(verb=verb), f"DROP TRIGGER tanks_issuedtable_{verb}")
        for verb in ("UPDATE", "DELETE")
    ]
