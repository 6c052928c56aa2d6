"""What lies under the crosshair, along a line and in feature space."""

import math
from typing import Annotated

import numpy as np
from fastapi import Query, Request

from kitesort.api.look_schemas import (
    EllipseOut,
    LineIn,
    LineOut,
    PlaceOut,
    PlaneIn,
    PlaneOut,
    RangeOut,
    ReadoutOut,
    ReferenceSpectraOut,
    ReferenceSpectrumOut,
    SoilLineOut,
)
from kitesort.api.plane_order import layer_of, plane_of, region_of
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.schemas import Finite, Id, RunOut
from kitesort.core.bands import RANGES_UM
from kitesort.core.display.feature_space import Axis
from kitesort.core.errors import BadSettingsError
from kitesort.core.geometry import reproject_point
from kitesort.core.reference_spectra import REFERENCE_SPECTRA, SOURCE
from kitesort.runs import density
from kitesort.runs.queue import RunQueue
from kitesort.store.scenes import first_scene_id
from kitesort.store.studies import get_study
from kitesort.study import plane
from kitesort.study.line import LineMember, read_line
from kitesort.study.rasters import opened, require_own, study_crs
from kitesort.study.readout import read_place

router = api_router("look")
DEGREES = "EPSG:4326"


@router.get("/studies/{study_id}/readout")
def get_readout(
    study_id: Id,
    x: Finite,
    y: Finite,
    scenes: Annotated[list[int] | None, Query(max_length=8)] = None,
    live: str | None = None,
    layers: Annotated[list[int] | None, Query(max_length=8)] = None,
) -> ReadoutOut:
    """What scenes and maps say at a place in the study's CRS."""
    if not (math.isfinite(x) and math.isfinite(y)):
        raise BadSettingsError("The point has no coordinates.")
    require_own(study_id, [*(scenes or ()), *(layers or ())])
    found = read_place(study_id, x, y, tuple(scenes or ()), live, tuple(layers or ()))
    return ReadoutOut.model_validate(found, from_attributes=True)


@router.get("/studies/{study_id}/place")
def find_place(study_id: Id, longitude: Finite, latitude: Finite) -> PlaceOut:
    """A place given in degrees, in the study's CRS."""
    if not (-180 <= longitude <= 360 and -90 <= latitude <= 90):
        raise BadSettingsError("Latitude goes from -90 to 90, longitude from -180 to 180 degrees.")
    get_study(study_id)
    x, y = reproject_point(longitude, latitude, DEGREES, study_crs(study_id))
    if not (math.isfinite(x) and math.isfinite(y)):
        raise BadSettingsError("The place cannot be shown in the study's coordinate system.")
    grid = opened(first_scene_id(study_id)).shown.grid
    return PlaceOut(x=x, y=y, inside=grid.pixel_at(x, y) is not None)


@router.get("/reference-spectra")
def get_reference_spectra() -> ReferenceSpectraOut:
    return ReferenceSpectraOut(
        spectra=[
            ReferenceSpectrumOut(
                id=s.id,
                title=s.title,
                colour=s.colour,
                source=SOURCE,
                wavelengths_um=[at for at, _ in s.points],
                reflectance=[value for _, value in s.points],
            )
            for s in REFERENCE_SPECTRA
        ],
        intervals={r.value: RangeOut(low=a, high=b) for r, (a, b) in RANGES_UM.items()},
    )


@router.post("/studies/{study_id}/line")
def get_line(study_id: Id, body: LineIn) -> LineOut:
    """Values of several layers along a line, one place per pixel, at most 2000."""
    members = [LineMember(*layer_of(text)) for text in body.members]
    found = read_line(study_id, body.vertices, members)
    return LineOut(
        distance_m=found.places.distance_m.tolist(),
        x=found.places.x.tolist(),
        y=found.places.y.tolist(),
        pixel_m=found.pixel_m,
        values=[[None if np.isnan(v) else v for v in row.tolist()] for row in found.values],
    )


@router.post("/studies/{study_id}/feature-space")
def get_feature_space(study_id: Id, body: PlaneIn) -> PlaneOut:
    """How the usable pixels of a region lie between two layers, and the classes' ellipses."""
    layers, region = plane_of(study_id, body), region_of(body)
    found = plane.find_density(layers, region, _axis(body.x_range), _axis(body.y_range))
    dense = found.density
    return PlaneOut(
        x=RangeOut(low=dense.x.low, high=dense.x.high),
        y=RangeOut(low=dense.y.low, high=dense.y.high),
        counts=dense.counts.tolist(),
        n_valid=dense.n_valid,
        n_outside=dense.n_outside,
        n_covered=found.n_covered,
        exact=found.exact,
        aligned=found.aligned,
        ellipses=[
            EllipseOut(code=code, x=e.x, y=e.y, long=e.long, short=e.short, angle_deg=e.angle_deg)
            for code, e in plane.class_ellipses(layers).items()
        ],
    )


@router.post("/studies/{study_id}/feature-space/count", status_code=201)
def count_feature_space(request: Request, study_id: Id, body: PlaneIn) -> RunOut:
    """Count every pixel of the whole scene, as a run; afterwards it is answered at once."""
    layers = plane_of(study_id, body)
    usual = plane.usual_axes(layers)
    x, y = _axis(body.x_range) or usual[0], _axis(body.y_range) or usual[1]
    task = density.DensityTask(
        x_scene=layers.x_scene, x_role=layers.x_role, y_scene=layers.y_scene,
        y_role=layers.y_role, x=(x.low, x.high), y=(y.low, y.high),
    )  # fmt: skip
    queue: RunQueue = request.app.state.queue
    title = f"Counting {layers.x_role} and {layers.y_role}"
    return run_out(queue.submit(study_id, title, density.KIND, task))


@router.post("/studies/{study_id}/soil-line")
def get_soil_line(study_id: Id, body: PlaneIn) -> SoilLineOut:
    """The line of bare soils at the foot of the cloud: red across, near infrared up."""
    found = plane.soil_line(plane_of(study_id, body), region_of(body))
    return SoilLineOut.model_validate(found, from_attributes=True)


def _axis(ends: tuple[float, float] | None) -> Axis | None:
    return None if ends is None else Axis(*ends)
