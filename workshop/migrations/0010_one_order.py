"""One order of what was done: steps stand in it beside what was done on the table."""

import django.db.models.deletion
from django.db import migrations, models


def put_in_order(apps, schema_editor):
    """Entries anew: what was done on the table in its order, before each of these the steps of the
    parts that it took away, and all other steps after it by time.

    What was done to a part that is there only with something that is undone is undone, too."""
    Entry, Part, Step = (apps.get_model("workshop", name) for name in ("Entry", "Part", "Step"))
    for project in apps.get_model("workshop", "Project").objects.all():
        deeds = list(Entry.objects.filter(project=project).order_by("pk"))
        Entry.objects.filter(project=project).delete()
        steps = list(Step.objects.filter(part__project=project).order_by("made", "pk"))
        parts = {part.pk: part for part in Part.objects.filter(project=project)}
        away = {number for deed in deeds if deed.undone for number in deed.made}
        entries = []

        def add_steps(of):
            for step in [step for step in steps if step.part_id in of]:
                steps.remove(step)
                part = parts[step.part_id]
                made = [n for n in step.report.get("made_parts", []) if n in parts]
                own = step.report.get("own_place")
                title = str(step.report.get("title") or step.report.get("tool", "Step"))
                along = part.pk in away and step.number <= part.position
                entry = Entry(
                    project=project,
                    words=title[:200],
                    part=part,
                    number=step.number,
                    made=made,
                    placed={} if own is None else {str(part.pk): [own, {}]},
                    undone=int(step.number > part.position or along),
                )
                entry.along = along
                entries.append(entry)

        for deed in deeds:
            if not {*deed.made, *deed.gone} <= parts.keys():
                continue
            add_steps(set(deed.gone))
            deed.pk = None
            deed.placed = {k: v for k, v in deed.placed.items() if int(k) in parts}
            entries.append(deed)
        add_steps(parts.keys())
        for entry in reversed(entries):
            part = entry.part
            if part is None or part.pk not in away or entry.number > part.position:
                continue
            report = Step.objects.get(part=part, number=entry.number).report
            part.position = entry.number - 1
            part.name = report.get("names", [part.name])[0]
            part.placement = entry.placed.get(str(part.pk), [part.placement])[0]
            part.save(update_fields=["position", "name", "placement"])
        # The first of those that are undone is done again first, with what went along with it.
        undone = [entry for entry in entries if entry.undone]
        for rank, entry in enumerate(reversed(undone), 1):
            entry.undone = rank
        for entry in entries:
            if getattr(entry, "along", False):
                entry.undone = next(e.undone for e in entries if entry.part_id in e.made)
        Entry.objects.bulk_create(entries)


class Migration(migrations.Migration):
    dependencies = [("workshop", "0009_table")]

    operations = [
        migrations.RenameModel(old_name="Deed", new_name="Entry"),
        migrations.RemoveField(model_name="entry", name="beside"),
        migrations.AddField(
            model_name="entry", name="key", field=models.CharField(default="", max_length=64)
        ),
        migrations.AddField(
            model_name="entry", name="number", field=models.PositiveIntegerField(null=True)
        ),
        migrations.AddField(
            model_name="entry",
            name="part",
            field=models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="entries",
                to="workshop.part",
            ),
        ),
        migrations.AlterField(
            model_name="entry",
            name="project",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE,
                related_name="entries",
                to="workshop.project",
            ),
        ),
        migrations.AlterField(
            model_name="entry", name="undone", field=models.PositiveIntegerField(default=0)
        ),
        migrations.RunPython(put_in_order, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="entry",
            constraint=models.UniqueConstraint(
                condition=models.Q(("key", ""), _negated=True),
                fields=("part", "key"),
                name="one_entry_a_key",
            ),
        ),
    ]
