"""Kept layers: facts, tiles, accuracy, download."""

from functools import lru_cache

from fastapi import APIRouter, Request, Response
from fastapi.responses import FileResponse

from kitesort.api.downloads import file_stem
from kitesort.api.grids import grid_out
from kitesort.api.pictures import picture_response
from kitesort.api.schemas import (
    AccuracyOut,
    Id,
    LayerOut,
    LayerPatch,
    LegendOut,
    PointOut,
    ProportionOut,
)
from kitesort.core.assess.error_matrix import Proportion
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.display.tile import Rgba, read_tile, render_classes
from kitesort.core.errors import InputError, NotFoundError
from kitesort.core.raster.cog import NODATA_CODE
from kitesort.store import layers
from kitesort.store.accuracy import check_layer
from kitesort.store.files import layer_path
from kitesort.store.rasters import colours_of, display_grid, for_display, layer_raster
from kitesort.store.records import Layer
from kitesort.store.studies import get_study
from kitesort.store.training import trained_on_now

router = APIRouter(tags=["layers"])


@router.get("/studies/{study_id}/layers")
def get_layers(study_id: Id) -> list[LayerOut]:
    get_study(study_id)
    return _layers_out(study_id, layers.list_layers(study_id))


@router.patch("/layers/{layer_id}")
def rename_layer(layer_id: Id, body: LayerPatch) -> LayerOut:
    layer = layers.rename_layer(layer_id, body.name)
    (renamed,) = _layers_out(layer.study_id, [layer])
    return renamed


@router.delete("/layers/{layer_id}", status_code=204)
def remove_layer(layer_id: Id) -> None:
    layers.remove_layer(layer_id)


@router.get(
    "/layers/{layer_id}/tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses={200: {"content": {"image/png": {}}}},
)
def get_layer_tile(request: Request, layer_id: Id, level: int, row: int, col: int) -> Response:
    raster = for_display(layer_raster(layer_id), layers.get_layer(layer_id).study_id)

    def make() -> bytes:
        return render_classes(
            read_tile(raster, level, row, col, ("class",)), _colours_by_id(layer_id)
        )

    return picture_response(request, f"{raster.fingerprint}|{level}|{row}|{col}", make)


@lru_cache(maxsize=256)
def _colours_by_id(layer_id: int) -> dict[int, Rgba]:
    return colours_of(layers.get_layer(layer_id))


@router.get("/layers/{layer_id}/accuracy")
def get_accuracy(layer_id: Id) -> AccuracyOut:
    """Error matrix against the study's reference points."""
    result = check_layer(layer_id)
    matrix = result.matrix
    return AccuracyOut(
        codes=list(matrix.codes),
        names=[entry.name for entry in result.entries],
        colours=[entry.colour for entry in result.entries],
        counts=matrix.counts.tolist(),
        n_points=matrix.n_points,
        n_without_map=result.n_without_map,
        unknown=result.unknown,
        overall=_proportion_out(matrix.overall),
        producers=[_proportion_out(p) for p in matrix.producers],
        users=[_proportion_out(p) for p in matrix.users],
        kappa=matrix.kappa,
        points=[
            PointOut(
                id=c.point.id,
                x=c.point.x,
                y=c.point.y,
                reference_code=c.reference_code,
                mapped_code=c.mapped_code,
            )
            for c in result.points
        ],
    )


@router.get("/layers/{layer_id}/file", response_class=FileResponse)
def download_layer(layer_id: Id) -> FileResponse:
    """The class map as Cloud Optimized GeoTIFF."""
    layer = layers.get_layer(layer_id)
    path = layer_path(layer.path)
    if not path.is_file():
        raise NotFoundError("The layer's file is not there any more. Run its recipe again.")
    return FileResponse(path, media_type="image/tiff", filename=f"{file_stem(layer.name)}.tif")


@router.get("/layers/{layer_id}/recipe", response_class=Response)
def download_recipe(layer_id: Id) -> Response:
    """The layer's recipe as JSON."""
    recipe = layers.get_map_recipe(layer_id)
    return Response(
        recipe.model_dump_json(indent=1),
        media_type="application/json",
        headers={"Content-Disposition": 'attachment; filename="recipe.json"'},
    )


def _proportion_out(p: Proportion) -> ProportionOut:
    return ProportionOut.model_validate(p, from_attributes=True)


def _layers_out(study_id: int, found: list[Layer]) -> list[LayerOut]:
    """The sites are looked at once for each scene, however many maps there are of it."""
    trained = {layer.scene_id for layer in found if layer.told.trained_on is not None}
    sites_now = {scene_id: _sites_now(study_id, scene_id) for scene_id in trained}
    return [_layer_out(layer, sites_now.get(layer.scene_id)) for layer in found]


def _sites_now(study_id: int, scene_id: int) -> str | None:
    """None where the scene cannot be opened any more."""
    try:
        return trained_on_now(study_id, scene_id)
    except (InputError, NotFoundError):
        return None


def _layer_out(layer: Layer, sites_now: str | None) -> LayerOut:
    told = layer.told
    return LayerOut(
        id=layer.id,
        scene_id=layer.scene_id,
        name=layer.name,
        sentence=told.sentence,
        method=told.method,
        roles=list(told.roles),
        n_sites=told.n_sites,
        legend=legend_out(layer),
        nodata_pixels=layer.pixels.get(NODATA_CODE, 0),
        seconds=layer.seconds,
        created_at=layer.created_at,
        up_to_date=_is_up_to_date(layer, sites_now),
        grid=told.grid and grid_out(display_grid(told.grid.to_grid(), layer.study_id)),
    )


def _is_up_to_date(layer: Layer, sites_now: str | None) -> bool:
    """Whether the same settings would make the same pixels now: scenes never change, names and
    colours are no pixels, and breaks depend on nothing that changes."""
    told = layer.told
    if told.trained_on is None:
        return True
    return (
        told.method in CLASSIFIERS
        and CLASSIFIERS[told.method].version == told.method_version
        and told.trained_on == sites_now
    )


def legend_out(layer: Layer) -> list[LegendOut]:
    """Every class of a map with its area; unclassified pixels only where there are some."""
    total = sum(n for code, n in layer.pixels.items() if code != NODATA_CODE)
    return [
        LegendOut(
            code=entry.code,
            name=entry.name,
            colour=entry.colour,
            pixels=layer.pixels.get(entry.code, 0),
            hectares=layer.hectares.get(entry.code, 0.0),
            percent=100 * layer.pixels.get(entry.code, 0) / max(total, 1),
        )
        for entry in layer.told.legend
        if layer.pixels.get(entry.code) or entry.code < 255
    ]
