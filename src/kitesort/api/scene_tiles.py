"""Pictures of scenes and what decides about their brightness."""

from typing import Annotated, Any

import numpy as np
from fastapi import Query, Request, Response

from kitesort.api.look_schemas import (
    ChannelOut,
    ClassCountsOut,
    HistogramIn,
    HistogramOut,
    PaletteOut,
    RegionHistogramOut,
    StretchQuery,
    TileQuery,
)
from kitesort.api.pictures import picture_response
from kitesort.api.routes import api_router
from kitesort.api.schemas import Finite, Id
from kitesort.core.display.stretch import Stretch, cut_shares
from kitesort.core.display.tile import render_composite, render_palette
from kitesort.core.errors import BadSettingsError
from kitesort.core.palette import PALETTES, SOURCE, palette_stops, palette_table
from kitesort.core.settings import describe_invalid
from kitesort.core.statistics import Histogram, histogram_of
from kitesort.study.look import (
    Region,
    band_sample,
    channel_curves,
    make_region,
    region_values,
    shown_tile,
)
from kitesort.study.rasters import opened
from kitesort.study.training import class_values

router = api_router("scenes")
PNG: dict[int | str, dict[str, Any]] = {200: {"content": {"image/png": {}}}}
CHANNEL_BINS = 96


@router.get(
    "/scenes/{scene_id}/tiles/{level}/{row}/{col}.png", response_class=Response, responses=PNG
)
def get_scene_tile(
    request: Request,
    scene_id: Id,
    level: int,
    row: int,
    col: int,
    query: Annotated[TileQuery, Query()],
) -> Response:
    """A composite of three bands, or one band with a palette, in the study's CRS."""
    roles = tuple(query.roles.split(","))
    if len(roles) != 3 and (len(roles) != 1 or query.palette is None):
        raise BadSettingsError("A composite takes exactly three bands; one band takes a palette.")
    layer = opened(scene_id)
    pattern = layer if query.stretch_of is None else opened(query.stretch_of)
    stretch, region = _stretch_of(query), _region_of(query)

    def make() -> bytes:
        block = shown_tile(layer, level, row, col, roles)
        curves = channel_curves(pattern, roles, stretch, region)
        if query.palette is None:
            return render_composite(block, curves)
        table = palette_table(query.palette, is_reversed=query.reverse, n_steps=query.steps)
        return render_palette(block, curves[0], table)

    key = f"{layer.shown.fingerprint}|{level}|{row}|{col}|{query.model_dump_json()}|{region}"
    return picture_response(request, key, make, is_shared=True)


@router.get("/scenes/{scene_id}/channels")
def get_channels(scene_id: Id, query: Annotated[StretchQuery, Query()]) -> list[ChannelOut]:
    """Each channel's histogram, its limits, and the share that they cut off."""
    roles = tuple(query.roles.split(","))
    region, pattern = _region_of(query), opened(query.stretch_of or scene_id)
    curves = channel_curves(pattern, roles, _stretch_of(query), region)
    channels = []
    for role, curve in zip(roles, curves, strict=True):
        values = band_sample(pattern, role, region)
        below, above = cut_shares(values, curve.limits)
        channels.append(
            ChannelOut(
                role=role,
                low=curve.limits.low,
                high=curve.limits.high,
                cut_low=below,
                cut_high=above,
                histogram=_histogram_out(histogram_of(values, CHANNEL_BINS, None, None)),
            )
        )
    return channels


@router.get("/scenes/{scene_id}/histogram")
def get_histogram(
    scene_id: Id,
    role: str,
    bins: Annotated[int, Query(ge=2, le=1024)] = 128,
    low: Finite | None = None,
    high: Finite | None = None,
) -> HistogramOut:
    """Of usable native pixels of one band, all or spread evenly."""
    return _histogram_out(histogram_of(band_sample(opened(scene_id), role), bins, low, high))


@router.post("/scenes/{scene_id}/histograms")
def count_histogram(scene_id: Id, body: HistogramIn) -> RegionHistogramOut:
    """Of the usable pixels of one band in a region, with statistics and the classes' own."""
    region = make_region(body.extent, tuple(body.site_ids), tuple(body.outlines))
    found = region_values(opened(scene_id), (body.role,), region)
    values = found.values[0]
    if body.low is not None and body.high is not None and not body.low < body.high:
        raise BadSettingsError("The low end of the range must be below its high end.")
    histogram = histogram_of(values, body.bins, body.low, body.high)
    classes = class_values(scene_id, body.role) if body.with_classes else {}
    precise = values.astype(np.float64)
    has = values.size > 0
    return RegionHistogramOut(
        **_histogram_out(histogram).model_dump(),
        minimum=float(precise.min()) if has else None,
        maximum=float(precise.max()) if has else None,
        mean=float(precise.mean()) if has else None,
        median=float(np.median(precise)) if has else None,
        standard_deviation=float(precise.std(ddof=1)) if values.size > 1 else None,
        n_covered=found.n_covered,
        exact=found.exact,
        classes=[
            ClassCountsOut(
                code=code,
                counts=list(histogram_of(v, body.bins, histogram.low, histogram.high).counts),
                n_pixels=v.size,
            )
            for code, v in classes.items()
        ],
    )


@router.get("/palettes")
def get_palettes() -> list[PaletteOut]:
    return [
        PaletteOut(
            id=p.id,
            title=p.title,
            note=p.note,
            diverging=p.diverging,
            source=f"{SOURCE}: {p.key}",
            colours=palette_stops(p.id),
        )
        for p in PALETTES
    ]


def _region_of(query: StretchQuery) -> Region:
    return make_region(query.extent, () if query.site is None else (query.site,))


def _stretch_of(query: StretchQuery) -> Stretch:
    try:
        pairs = query.limits.split(",") if query.limits else []
        return Stretch(
            kind=query.stretch,
            low=query.low,
            high=query.high,
            deviations=query.deviations,
            limits=tuple((float(a), float(b)) for a, b in (p.split(":") for p in pairs)),
            shared=query.shared,
        )
    except ValueError as error:
        raise BadSettingsError(f"The stretch cannot be used: {describe_invalid(error)}") from error


def _histogram_out(found: Histogram) -> HistogramOut:
    return HistogramOut.model_validate(found, from_attributes=True)
