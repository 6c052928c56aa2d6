"""One rule, per band: what is not usable is not-a-number, lazily, kept, whoever asks for what."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import rasterio

from kitesort.core.correct.registry import COMBINATIONS
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.errors import InputError
from kitesort.core.operation import Context, LayerRef
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.scene_file import write_scene
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.recipe import DeliveredLeaf, Recipe, open_recipe
from support.arrays import ArrayRaster, coarser_grid, random_raster
from support.code_maps import CodesOn
from support.operations import (
    AREA,
    CORRECTION_SETTINGS,
    DERIVATION_SETTINGS,
    combine,
    correct,
    derive,
)
from support.recipes import stepped
from support.scene_context import context_of, reader_of
from support.small_scene import CLOUD, write_small_scene


def with_gaps(raster: ArrayRaster, seed: int) -> ArrayRaster:
    """In each band other pixels are missing, beside those that are missing in all."""
    rng = np.random.default_rng(seed)
    values = raster.values.copy()
    values[rng.random(values.shape) < 0.15] = np.nan
    return replace(raster, values=values)


def write_gappy_scene(folder: Path) -> Path:
    """The small delivery with fill in other places of each band; its metadata file."""
    scene = write_small_scene(folder)
    for i, path in enumerate(sorted(folder.glob("band_*.tif"))):
        with rasterio.open(path, "r+") as dataset:
            data = dataset.read(1)
            data[14 + 6 * i : 19 + 6 * i, 20:40] = 0
            dataset.write(data, 1)
    return scene.metadata


@pytest.fixture(scope="module")
def opened(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Raster]:
    """The result of every operation there is, on sources with gaps in each band."""
    metadata = write_gappy_scene(tmp_path_factory.mktemp("gaps"))
    delivered = open_delivery(read_delivery(metadata))
    whole = delivered.read(delivered.grid.whole)
    twin = ArrayRaster(whole.values * np.float32(1.2), whole.valid | True, roles_of(delivered))
    rasters = {2: with_gaps(twin, 3), 3: CodesOn(delivered)}
    context = context_of(rasters, read_delivery(metadata))
    source = replace(with_gaps(random_raster(67, 83, 6), 1), coarse=(("swir16", 2), ("swir22", 3)))
    other = with_gaps(random_raster(67, 83, 6, seed=5), 2)
    scenes: dict[int, Raster] = {1: source, 2: other}
    names = {f"other.{role}": LayerRef(scene_id=2, role=role) for role in other.roles}
    deriving = Context(lambda i, _: scenes[i], layers=names, sensor="Test sensor")
    made: dict[str, Callable[[], Raster]] = {"as delivered": lambda: delivered}
    for name in CORRECTION_SETTINGS:
        made[f"correct {name}"] = lambda name=name: correct(name, delivered, context)
    for name in DERIVATION_SETTINGS:
        made[f"derive {name}"] = lambda name=name: derive(name, source, deriving)
    for name in COMBINATIONS:
        made[f"combine {name}"] = lambda name=name: combine(name, source, other)
    for kind in ("nearest", "bilinear", "cubic", "average"):
        grid = coarser_grid(source.grid, 2)
        made[f"warp {kind}"] = lambda kind=kind, grid=grid: WarpedRaster(source, grid, kind)
    return {name: make() for name, make in made.items()}


NAMES = [
    "as delivered",
    *(f"correct {name}" for name in CORRECTION_SETTINGS),
    *(f"derive {name}" for name in DERIVATION_SETTINGS),
    *(f"combine {name}" for name in COMBINATIONS),
    *(f"warp {kind}" for kind in ("nearest", "bilinear", "cubic", "average")),
]


@pytest.mark.parametrize("name", NAMES)
def test_a_band_is_the_same_whichever_others_are_read_with_it(
    opened: dict[str, Raster], name: str
) -> None:
    raster = opened[name]
    whole = raster.read(raster.grid.whole)
    assert np.array_equal(whole.valid, ~np.isnan(whole.values).any(axis=0), equal_nan=True)
    for i, role in enumerate(roles_of(raster)):
        alone = raster.read(raster.grid.whole, (role,))
        assert np.array_equal(alone.values[0], whole.values[i], equal_nan=True), role
        assert np.array_equal(alone.valid, ~np.isnan(whole.values[i]), equal_nan=True), role


@pytest.mark.parametrize("name", NAMES)
def test_a_kept_file_is_the_same_pixels_as_its_recipe(
    opened: dict[str, Raster], name: str, tmp_path: Path
) -> None:
    raster = opened[name]
    write_scene(raster, tmp_path / "kept.tif", block_size=32)
    kept = FileRaster(str(tmp_path / "kept.tif"), raster.bands, np.nan)
    roles = roles_of(raster)
    for asked in (roles, *((role,) for role in roles)):
        lazily, again = (r.read(raster.grid.whole, asked) for r in (raster, kept))
        assert np.array_equal(lazily.values, again.values, equal_nan=True), asked
        assert np.array_equal(lazily.valid, again.valid), asked


def recipe_of(metadata: Path) -> Recipe:
    return DeliveredLeaf(delivery=read_delivery(metadata))


def test_converting_keeps_what_was_masked_before(tmp_path: Path) -> None:
    reader = reader_of(write_gappy_scene(tmp_path / "s"))
    recipe = recipe_of(tmp_path / "s" / "SMALL_1_metadata.txt")
    masked = stepped(recipe, "mask-areas", {"areas": [AREA]}, reader)
    before = open_recipe(masked, reader).read(open_recipe(masked, reader).grid.whole)
    numbers = open_recipe(stepped(masked, "convert", {"quantity": "numbers"}, reader), reader)
    after = numbers.read(numbers.grid.whole)
    assert np.array_equal(np.isnan(after.values), np.isnan(before.values), equal_nan=True)
    assert np.nanmax(after.values) > 100


def test_converting_after_a_changed_value_is_refused(tmp_path: Path) -> None:
    """It starts from the numbers as delivered, and would undo the step without a word."""
    reader = reader_of(write_gappy_scene(tmp_path / "s"))
    recipe = recipe_of(tmp_path / "s" / "SMALL_1_metadata.txt")
    hazeless = stepped(recipe, "dark-object", {}, reader)
    with pytest.raises(InputError, match="would undo that step"):
        stepped(hazeless, "convert", {"quantity": "numbers"}, reader)


def test_a_quality_mask_lies_where_the_delivery_does_even_after_a_move(tmp_path: Path) -> None:
    """A scene moved by forty pixels still loses its own clouds, not what lies there now."""
    reader = reader_of(write_gappy_scene(tmp_path / "s"))
    recipe = recipe_of(tmp_path / "s" / "SMALL_1_metadata.txt")
    moved = stepped(recipe, "move", {"right_px": 40, "down_px": 40}, reader)
    masked = stepped(moved, "mask-quality", {"flags": ["cloud"]}, reader)
    seen = open_recipe(masked, reader, excluded=("fill",))
    valid = seen.read(seen.grid.whole, ("nir",)).valid
    assert not valid[CLOUD].any()
    before = open_recipe(moved, reader, excluded=("fill",))
    rest = before.read(before.grid.whole, ("nir",)).valid
    rest[CLOUD] = False
    assert np.array_equal(valid, rest)
