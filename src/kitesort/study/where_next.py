"""Where to draw next, in words and in the study's coordinates."""

from dataclasses import dataclass

from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.where_next import Place, where_next
from kitesort.core.geodesy import pixel_side_m
from kitesort.core.geometry import reproject_point
from kitesort.core.newest import Newest
from kitesort.study.method import USUAL_METHOD, Method
from kitesort.study.rasters import open_layer, study_crs
from kitesort.study.training import TrainingState, training_state

KEPT_ANSWERS = 16
MOST_PLACES = 10
METRES_PER_KM = 1000.0


@dataclass(frozen=True)
class NextPlace:
    """A place (x, y in the study's CRS), why it is worth a site, and how many metres of ground a
    pixel there is wide."""

    x: float
    y: float
    reason: str
    place: Place


def next_places(
    study_id: int, scene_id: int, roles: tuple[str, ...], method: Method = USUAL_METHOD
) -> list[NextPlace]:
    """Up to ten places at which another site would teach most; remembered as long as the training
    is what it is.

    Raises
    ------
    TrainingError : nothing can be trained yet.
    """
    state = training_state(study_id, scene_id, roles, method)
    return _answers.get(state.version, lambda: _find(study_id, state))


def _find(study_id: int, state: TrainingState) -> list[NextPlace]:
    model, used = state.trained()
    raster, crs = open_layer(state.scene_id, "work"), study_crs(study_id)
    kind = CLASSIFIERS[state.training.method].scores
    names = {c.code: c.name for c in state.training.classes}
    side = pixel_side_m(raster.grid)
    found = []
    for place in where_next(raster, model, kind, used, n=MOST_PLACES):
        x, y = raster.grid.transform @ (place.col + 0.5, place.row + 0.5)
        x, y = reproject_point(float(x), float(y), raster.grid.crs, crs)
        found.append(NextPlace(x, y, _reason(place, names, side), place))
    return found


def _reason(place: Place, names: dict[int, str], side_m: float) -> str:
    first, second = (names[code] for code in place.codes)
    metres = place.distance * side_m
    away = f"{metres / METRES_PER_KM:.1f} km" if metres >= METRES_PER_KM else f"{metres:.0f} m"
    where = f"{away} from the nearest site"
    if place.strange:
        return f"Unlike anything drawn so far; nearest to {first}. {where}."
    return (
        f"{first} or {second.lower()}: scores {place.scores[0]:.2f} and {place.scores[1]:.2f} "
        f"on average of 5 × 5 pixels. {where}."
    )


_answers: Newest[str, list[NextPlace]] = Newest(KEPT_ANSWERS)
