"""Kept layers: facts, tiles, accuracy, download."""

import re
from functools import lru_cache

from fastapi import APIRouter, Request, Response
from fastapi.responses import FileResponse

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
from kitesort.core.derive.breaks_recipe import BreaksRecipe
from kitesort.core.display.tile import Rgba, read_tile, render_classes
from kitesort.core.errors import NotFoundError
from kitesort.core.raster.cog import NODATA_CODE
from kitesort.store import layers
from kitesort.store.accuracy import check_layer
from kitesort.store.files import layer_path
from kitesort.store.rasters import colours_of, for_display, layer_raster
from kitesort.store.records import Layer
from kitesort.store.studies import get_study
from kitesort.store.training import make_recipe

router = APIRouter(tags=["layers"])


@router.get("/studies/{study_id}/layers")
def get_layers(study_id: Id) -> list[LayerOut]:
    get_study(study_id)
    return [_layer_out(layer) for layer in layers.list_layers(study_id)]


@router.patch("/layers/{layer_id}")
def rename_layer(layer_id: Id, body: LayerPatch) -> LayerOut:
    return _layer_out(layers.rename_layer(layer_id, body.name))


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
    name = re.sub(r"[^\w-]+", "-", layer.name).strip("-").lower()
    return FileResponse(path, media_type="image/tiff", filename=f"{name}.tif")


@router.get("/layers/{layer_id}/recipe", response_class=Response)
def download_recipe(layer_id: Id) -> Response:
    """The layer's recipe as JSON."""
    recipe = layers.get_layer(layer_id).recipe
    return Response(
        recipe.model_dump_json(indent=1),
        media_type="application/json",
        headers={"Content-Disposition": 'attachment; filename="recipe.json"'},
    )


def _proportion_out(p: Proportion) -> ProportionOut:
    return ProportionOut.model_validate(p, from_attributes=True)


def _layer_out(layer: Layer) -> LayerOut:
    recipe = layer.recipe
    return LayerOut(
        id=layer.id,
        scene_id=layer.scene_id,
        name=layer.name,
        sentence=recipe.sentence,
        method=recipe.method,
        roles=list(recipe.roles),
        n_sites=recipe.n_sites,
        legend=legend_out(layer),
        nodata_pixels=layer.pixels.get(NODATA_CODE, 0),
        seconds=layer.seconds,
        created_at=layer.created_at,
        up_to_date=_is_up_to_date(layer),
        grid=grid_out(for_display(layer_raster(layer.id), layer.study_id).grid),
    )


def _is_up_to_date(layer: Layer) -> bool:
    """Whether the same settings would make the same map now; breaks depend on nothing that
    changes."""
    recipe = layer.recipe
    if isinstance(recipe, BreaksRecipe):
        return True
    now = make_recipe(
        layer.study_id, layer.scene_id, recipe.roles, recipe.method, recipe.settings, recipe.seed
    )
    return now.fingerprint == recipe.fingerprint


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
        for entry in layer.recipe.legend
        if layer.pixels.get(entry.code) or entry.code < 255
    ]
