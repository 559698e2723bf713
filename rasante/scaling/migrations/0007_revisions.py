"""Mark sets count their revisions and keep what was saved over."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


def begin_history(apps, schema_editor):
    """Write the sets of before into their history, so that saving over one can be undone."""
    Historical = apps.get_model("scaling", "HistoricalMarkSet")
    for saved in apps.get_model("scaling", "MarkSet").objects.all():
        Historical.objects.create(
            id=saved.pk,
            name=saved.name,
            entries=saved.entries,
            made_at=saved.made_at,
            made_by_id=saved.made_by_id,
            revision=1,
            history_date=saved.made_at,
            history_user_id=saved.made_by_id,
            history_type="+",
        )


class Migration(migrations.Migration):

    dependencies = [
        ('scaling', '0006_one_chain'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='markset',
            name='revision',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.CreateModel(
            name='HistoricalMarkSet',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('name', models.CharField(db_index=True, max_length=80)),
                ('entries', models.JSONField()),
                ('made_at', models.DateTimeField(blank=True, editable=False)),
                ('revision', models.PositiveIntegerField(default=1)),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('made_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical mark set',
                'verbose_name_plural': 'historical mark sets',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.RunPython(begin_history, migrations.RunPython.noop),
    ]
