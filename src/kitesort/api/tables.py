"""What a class map tells in numbers, as tables to take away."""

from typing import Any

from fastapi import Response

from kitesort.api.downloads import attachment, file_stem
from kitesort.api.maps import legend_out
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id, UpperQuery
from kitesort.core.assess.error_matrix import ErrorMatrix, Proportion
from kitesort.core.table import Cell, to_csv
from kitesort.study.accuracy import check_map
from kitesort.study.maps import get_map

router = api_router("maps")
CSV: dict[int | str, dict[str, Any]] = {200: {"content": {"text/csv": {}}}}


@router.get("/maps/{layer_id}/areas", response_class=Response, responses=CSV)
def download_areas(layer_id: Id) -> Response:
    """Legend and areas of a class map: pixels, percent of what is classified, hectares."""
    layer = get_map(layer_id)
    head: list[Cell] = ["code", "class", "colour", "pixels", "percent", "hectares"]
    rows: list[list[Cell]] = [
        [e.code, e.name, e.colour, e.pixels, e.percent, e.hectares] for e in legend_out(layer)
    ]
    return _csv([head, *rows], f"{layer.title}-areas")


@router.get("/maps/{layer_id}/error-matrix", response_class=Response, responses=CSV)
def download_error_matrix(layer_id: Id, upper: UpperQuery = False) -> Response:
    """Error matrix of a class map with its totals and accuracies: rows as mapped, columns as found
    on the ground."""
    found = check_map(layer_id, upper)
    names = [entry.name for entry in found.entries]
    return _csv(_matrix_rows(found.matrix, names), f"{get_map(layer_id).title}-error-matrix")


def _matrix_rows(matrix: ErrorMatrix, names: list[str]) -> list[list[Cell]]:
    ends = ["user's accuracy", "95 % from", "to"]
    rows: list[list[Cell]] = [["mapped as \\ found as", *names, "total", *ends]]
    for name, counts, users in zip(names, matrix.counts, matrix.users, strict=True):
        rows.append([name, *counts.tolist(), int(counts.sum()), *_interval(users)])
    rows.append(["total", *matrix.counts.sum(axis=0).tolist(), matrix.n_points])
    producers = [_interval(p) for p in matrix.producers]
    for i, words in enumerate(("producer's accuracy", "95 % from", "to")):
        rows.append([words, *(p[i] for p in producers)])
    rows.append(["overall accuracy", *_interval(matrix.overall)])
    rows.append(["kappa", matrix.kappa])
    return rows


def _interval(p: Proportion) -> list[Cell]:
    return [p.value, p.low, p.high]


def _csv(rows: list[list[Cell]], name: str) -> Response:
    return Response(
        to_csv(rows),
        media_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": attachment(f"{file_stem(name)}.csv")},
    )
