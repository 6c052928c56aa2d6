"""Settings that leave nothing to chance, for every operation there is, and how each is opened."""

from typing import Any

from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import validate_settings
from support.opening import open_by, prepare_by
from support.small_scene import rectangle

AREA = rectangle(20, 30, 25, 40)
CORRECTION_SETTINGS: dict[str, dict[str, Any]] = {
    "assign-crs": {"crs": "EPSG:32624"},
    "convert": {"quantity": "numbers"},
    "crop": {"areas": [AREA]},
    "dark-object": {},
    "mask-areas": {"areas": [AREA]},
    "mask-classes": {"ground": {"layer_id": 3, "codes": [1]}},
    "mask-like": {"scene_id": 2},
    "mask-quality": {"flags": ["cloud"]},
    "mask-range": {"lowest": 0.02, "highest": 0.3},
    "mask-cloud": {"cloud": {"across": "red", "up": "nir", "corners": "0 0, 1 0, 1 0.2, 0 0.2"}},
    "match-histogram": {"scene_id": 2},
    "move": {"right_px": 1.5, "down_px": -0.25},
    "name-bands": {"roles": "coastal red nir swir22"},
    "regress": {"scene_id": 2},
    "regrid": {"pixel_size": 25, "resampling": "average"},
    "scale": {"scale": 2.0, "offset": -0.1},
}
TABLE = {
    "components": [
        {
            "name": name,
            "weights": [{"role": "nir", "value": nir}, {"role": "red", "value": red}],
        }
        for name, nir, red in (("first", 0.6, 0.8), ("second", 0.8, -0.6))
    ]
}
DERIVATION_SETTINGS: dict[str, dict[str, Any]] = {
    "formula": {"formula": "where(nir > red, log(nir), other.red / green)"},
    "index": {"index": "ndvi"},
    "noise-fraction": {"n_components": 2, "pixels": "every"},
    "principal-components": {"n_components": 3, "matrix": "correlation"},
    "ratio": {"upper": "nir", "lower": "blue"},
    "sharpen": {"fine": ["nir", "red"]},
    "stack": {"members": [{"scene_id": 2, "role": "nir"}, {"scene_id": 1, "role": "nir"}]},
    "stripe-filter": {"roles": ["nir", "red"], "length_px": 24, "period_px": 6},
    "tasseled-cap": {"coefficients": "own", "own_name": "Mine", "table": TABLE},
    "texture": {"role": "nir", "window_px": 5, "levels": 8, "measures": ["entropy", "contrast"]},
}


def correct(operation: str, source: Raster, context: Context, **changes: Any) -> Raster:
    spec = CORRECTIONS[operation]
    settings = validate_settings(spec, CORRECTION_SETTINGS[operation] | changes)
    return open_by(spec, source, prepare_by(spec, source, settings, context), context)


def derive(operation: str, source: Raster, context: Context, **changes: Any) -> Raster:
    spec = DERIVATIONS[operation]
    settings = validate_settings(spec, DERIVATION_SETTINGS[operation] | changes)
    return open_by(spec, source, prepare_by(spec, source, settings, context), context)


def combine(method: str, *members: Raster, **settings: object) -> Raster:
    spec = COMBINATIONS[method]
    return open_by(spec, members, validate_settings(spec, settings))
