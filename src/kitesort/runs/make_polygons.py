"""The run that makes polygons of a class map, and a file of them to be taken away."""

import time
from typing import Any

import numpy as np
import shapely
from pydantic import BaseModel

from kitesort.core.objects.polygon_file import Form, write_polygons
from kitesort.core.objects.polygons import MeanOf, Polygons, to_polygons
from kitesort.core.operation import LayerRef
from kitesort.runs.reporter import watch_run
from kitesort.store.database import transaction
from kitesort.store.files import export_path
from kitesort.store.records import Run
from kitesort.store.runs import finish_run, report_rows
from kitesort.study.maps import get_map
from kitesort.study.rasters import open_layer

KIND = "polygons"


class PolygonsTask(BaseModel):
    """``measure``: a layer whose mean each polygon tells."""

    layer_id: int
    tolerance_m: float
    form: Form
    measure: LayerRef | None = None


class PolygonsRow(BaseModel):
    """What was made: a file among the exports, how much is in it, and by how much the area of a
    class differs from that of its pixels at most, as a share."""

    file: str
    n_polygons: int
    n_corners: int
    largest_change: float


def make_polygons(run: Run) -> None:
    started = time.monotonic()
    task = PolygonsTask.model_validate(run.task)
    layer, raster = get_map(task.layer_id), open_layer(task.layer_id, "work")
    mean = None
    if task.measure is not None:
        mean = MeanOf(open_layer(task.measure.scene_id, "work"), task.measure.role)
    found = to_polygons(raster, task.tolerance_m, watch_run(run.id), mean)
    name = f"polygons-{layer.id}-run-{run.id}.{task.form}"
    role = task.measure.role if task.measure else None
    write_polygons(found, raster.bands[0].legend, export_path(name), task.form, role)
    row = PolygonsRow(
        file=name, n_polygons=len(found.shapes),
        n_corners=int(shapely.get_num_coordinates(found.shapes).sum()),
        largest_change=largest_change(found),
    )  # fmt: skip
    with transaction():
        report_rows(run.id, [row.model_dump(mode="json")])
        seconds = time.monotonic() - started
        said = f"{row.n_polygons:,} polygons of “{layer.title}” after {seconds:.1f} s."
        finish_run(run.id, [said], layer.id)


def largest_change(found: Polygons) -> float:
    """Of the area of any class, in the plane, in which pixels are alike."""
    pixels = np.bincount(found.codes, found.n_pixels)
    shapes = np.bincount(found.codes, shapely.area(found.shapes))
    there = pixels > 0
    each = found.pixel_area
    return float(np.abs(shapes[there] / (each * pixels[there]) - 1).max(initial=0.0))


def row_of(run: Run) -> dict[str, Any] | None:
    """What a run of this kind has made, once it has."""
    return run.rows[0] if run.kind == KIND and run.rows and run.state == "done" else None
