"""What a request says of two layers and of where their pixels are looked at."""

from kitesort.api.look_schemas import PlaneIn
from kitesort.core.errors import BadSettingsError
from kitesort.study.look import Region, make_region
from kitesort.study.plane import PlaneLayers
from kitesort.study.rasters import require_own


def layer_of(text: str) -> tuple[int, str]:
    scene, _, role = text.partition(":")
    if not scene.isdecimal() or not role:
        raise BadSettingsError(f"“{text}” is no layer: it is written as a scene's id and a role.")
    return int(scene), role


def plane_of(study_id: int, body: PlaneIn) -> PlaneLayers:
    layers = PlaneLayers(*layer_of(body.x), *layer_of(body.y))
    require_own(study_id, [layers.x_scene, layers.y_scene])
    return layers


def region_of(body: PlaneIn) -> Region:
    return make_region(body.extent, tuple(body.site_ids), tuple(body.outlines))
