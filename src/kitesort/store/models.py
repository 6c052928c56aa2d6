"""The tables as peewee models; only the store's own modules touch them."""

import peewee as pw
from playhouse.postgres_ext import BinaryJSONField, DateTimeTZField

from kitesort.store.database import db


class Table(pw.Model):
    id = pw.AutoField()

    class Meta:
        database = db
        legacy_table_names = False


class StudyRow(Table):
    name = pw.TextField()
    view = BinaryJSONField(default=dict, index=False)
    crs = pw.TextField(null=True)
    created_at = DateTimeTZField(constraints=[pw.SQL("DEFAULT now()")])

    class Meta:
        table_name = "study"


class LayerRow(Table):
    study_id = pw.IntegerField()
    kind = pw.TextField(default="measured")
    title = pw.TextField()
    recipe = BinaryJSONField(index=False)
    told = BinaryJSONField(index=False, null=True)
    areas = BinaryJSONField(index=False, null=True)
    acquired = pw.DateField(null=True)
    sensor = pw.TextField(default="")
    series = pw.TextField(null=True)
    kept_path = pw.TextField(null=True)
    statistics = BinaryJSONField(null=True, index=False)
    removed = pw.BooleanField(default=False)
    draft_key = pw.TextField(null=True)
    created_at = DateTimeTZField(constraints=[pw.SQL("DEFAULT now()")])

    class Meta:
        table_name = "layer"


class ClassRow(Table):
    study_id = pw.IntegerField()
    code = pw.IntegerField()
    name = pw.TextField()
    colour = pw.TextField()
    description = pw.TextField(default="")
    position = pw.IntegerField(null=True)
    parent_id = pw.IntegerField(null=True)

    class Meta:
        table_name = "land_class"


class SiteRow(Table):
    study_id = pw.IntegerField()
    class_id = pw.IntegerField()
    geometry = BinaryJSONField(index=False)
    note = pw.TextField(default="")
    true_on = pw.DateField(null=True)
    trusted = pw.BooleanField(default=False)
    set_aside = pw.BooleanField(default=False)
    client_key = pw.TextField(null=True)

    class Meta:
        table_name = "site"


class PointRow(Table):
    study_id = pw.IntegerField()
    x = pw.DoubleField()
    y = pw.DoubleField()
    class_code = pw.IntegerField()

    class Meta:
        table_name = "reference_point"


class ClassifierRow(Table):
    study_id = pw.IntegerField()
    name = pw.TextField()
    told = BinaryJSONField(index=False)
    path = pw.TextField()
    removed = pw.BooleanField(default=False)
    created_at = DateTimeTZField(constraints=[pw.SQL("DEFAULT now()")])

    class Meta:
        table_name = "classifier"


class RunRow(Table):
    study_id = pw.IntegerField()
    title = pw.TextField()
    kind = pw.TextField()
    task = BinaryJSONField(index=False)
    brief = BinaryJSONField(index=False, null=True)
    state = pw.TextField(default="waiting")
    percent = pw.DoubleField(default=0)
    seconds_left = pw.DoubleField(null=True)
    log = BinaryJSONField(default=list, index=False)
    rows = BinaryJSONField(default=list, index=False)
    problem = pw.TextField(null=True)
    layer_id = pw.IntegerField(null=True)
    cancel_requested = pw.BooleanField(default=False)
    attempts = pw.IntegerField(default=0)
    created_at = DateTimeTZField(constraints=[pw.SQL("DEFAULT now()")])
    finished_at = DateTimeTZField(null=True)

    class Meta:
        table_name = "run"


class EditRow(Table):
    study_id = pw.IntegerField()
    title = pw.TextField()
    changes = BinaryJSONField(index=False)
    undone = pw.BooleanField(default=False)

    class Meta:
        table_name = "edit"


class DeliveryRow(Table):
    study_id = pw.IntegerField()
    name = pw.TextField()
    origin = pw.TextField()
    folder = pw.TextField()
    created_at = DateTimeTZField(constraints=[pw.SQL("DEFAULT now()")])

    class Meta:
        table_name = "delivery"


class DeliveredFileRow(Table):
    delivery_id = pw.IntegerField()
    path = pw.TextField()
    size = pw.BigIntegerField()
    sha256 = pw.TextField()

    class Meta:
        table_name = "delivered_file"


class ClusterNameRow(Table):
    study_id = pw.IntegerField()
    layer_id = pw.IntegerField()
    code = pw.IntegerField()
    class_id = pw.IntegerField()

    class Meta:
        table_name = "cluster_name"


class NoteRow(Table):
    study_id = pw.IntegerField()
    x = pw.DoubleField()
    y = pw.DoubleField()
    text = pw.TextField()
    created_at = DateTimeTZField(constraints=[pw.SQL("DEFAULT now()")])

    class Meta:
        table_name = "note"


class PresetRow(Table):
    study_id = pw.IntegerField()
    kind = pw.TextField()
    name = pw.TextField()
    content = BinaryJSONField(index=False)
    created_at = DateTimeTZField(constraints=[pw.SQL("DEFAULT now()")])

    class Meta:
        table_name = "preset"


class DensityRow(Table):
    key = pw.TextField(unique=True)
    found = BinaryJSONField(index=False)

    class Meta:
        table_name = "density"
