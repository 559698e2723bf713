"""Standings of tanks, and what calls for a person."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('tanks', '0005_seals'),
    ]

    operations = [
        migrations.CreateModel(
            name='Standing',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('stamp', models.CharField(db_index=True, max_length=16)),
                ('stations', models.JSONField()),
                ('level', models.JSONField(null=True)),
                ('rank', models.PositiveSmallIntegerField()),
                ('tank', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='standing', to='tanks.tank')),
            ],
            options={
                'ordering': ['rank', 'tank_id'],
            },
        ),
        migrations.CreateModel(
            name='Call',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('rank', models.PositiveSmallIntegerField()),
                ('station', models.CharField(max_length=20)),
                ('words', models.CharField(max_length=400)),
                ('state', models.CharField(max_length=20)),
                ('standing', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='calls', to='board.standing')),
            ],
            options={
                'ordering': ['rank', 'id'],
            },
        ),
        migrations.AddIndex(
            model_name='standing',
            index=models.Index(fields=['rank', 'tank'], name='board_stand_rank_46d170_idx'),
        ),
        migrations.AddIndex(
            model_name='call',
            index=models.Index(fields=['rank', 'id'], name='board_call_rank_375305_idx'),
        ),
    ]
