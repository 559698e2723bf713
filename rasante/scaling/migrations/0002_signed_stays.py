"""The database itself refuses to change or delete a signed proof, whoever asks."""

from django.db import migrations

GUARD = """
CREATE TRIGGER scaling_proof_signed_{verb} BEFORE {verb} ON scaling_proof WHEN OLD.state = 'signed'
BEGIN SELECT RAISE(ABORT, 'a signed proof never changes: make a new one'); END;
"""


class Migration(migrations.Migration):
    dependencies = [("scaling", "0001_initial")]
    operations = [
        migrations.RunSQL(GUARD.format(verb=verb), f"DROP TRIGGER scaling_proof_signed_{verb}")
        for verb in ("UPDATE", "DELETE")
    ]
