"""Series of dates and their values through time."""

from kitesort.api.routes import api_router
from kitesort.api.scene_schemas import SeriesOut, SeriesPlace, SeriesValueOut
from kitesort.api.schemas import Id
from kitesort.core.errors import BadSettingsError, NotFoundError
from kitesort.core.raster.protocol import roles_of
from kitesort.study import series
from kitesort.study.rasters import open_layer

router = api_router("series")


@router.get("/studies/{study_id}/series")
def get_series(study_id: Id) -> list[SeriesOut]:
    found = []
    for name, scenes in series.list_series(study_id).items():
        dates = [s.acquired for s in scenes if s.acquired]
        found.append(
            SeriesOut(
                name=name,
                first=min(dates),
                last=max(dates),
                n_dates=len(scenes),
                roles=list(roles_of(open_layer(scenes[0].id))),
            )
        )
    return found


@router.post("/studies/{study_id}/series-values")
def get_series_values(study_id: Id, body: SeriesPlace) -> list[SeriesValueOut]:
    """Values of a point, or means of an outline, through a series; both dates are included."""
    scenes = series.list_series(study_id).get(body.name)
    if scenes is None:
        raise NotFoundError(f"There is no series “{body.name}” any more.")
    chosen = [
        s
        for s in scenes
        if s.acquired
        and (body.first is None or s.acquired >= body.first)
        and (body.last is None or s.acquired <= body.last)
    ]
    if body.geometry is not None:
        values = series.values_in_site(study_id, chosen, body.role, body.geometry)
    elif body.x is not None and body.y is not None:
        values = series.values_at_point(study_id, chosen, body.role, body.x, body.y)
    else:
        raise BadSettingsError("Give a point or an outline.")
    return [SeriesValueOut.model_validate(v, from_attributes=True) for v in values]
