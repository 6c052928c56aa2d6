"""Two class maps beside each other."""

from kitesort.api.maps import map_out
from kitesort.api.method_schemas import (
    MapComparisonOut,
    MatchedOut,
    NamedClassOut,
    OtherMap,
    SamePointsOut,
)
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id, MapOut
from kitesort.core.legend import Legend
from kitesort.study.comparing import compare, make_disagreement

router = api_router("maps")


@router.get("/maps/{layer_id}/against/{other_id}")
def compare_maps(layer_id: Id, other_id: Id) -> MapComparisonOut:
    """From which class to which, over all pixels; and who is right on the same reference points."""
    found = compare(layer_id, other_id)
    rows, columns = [e.code for e in found.rows], [e.code for e in found.columns]
    points = found.points
    pixels, hectares = found.table.table(rows, columns)
    matched = None
    if found.matched is not None:
        matched = [MatchedOut(first=a, second=b) for a, b in sorted(found.matched.items())]
    return MapComparisonOut(
        rows=_names(found.rows),
        columns=_names(found.columns),
        pixels=pixels.tolist(),
        hectares=hectares.tolist(),
        same=found.same,
        points=points and SamePointsOut.model_validate(points, from_attributes=True),
        matched=matched,
        rand=found.rand,
    )


@router.post("/maps/{layer_id}/disagreement", status_code=201)
def create_disagreement(layer_id: Id, body: OtherMap) -> MapOut:
    """A layer of where two maps differ, by class name."""
    return map_out(make_disagreement(layer_id, body.other_id))


def _names(legend: Legend) -> list[NamedClassOut]:
    return [NamedClassOut(code=e.code, name=e.name, colour=e.colour) for e in legend]
