"""Every row of the bench: what it measures, and what that stands beside."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from bench.ground import Ground
from bench.result import Result
from kitesort.core.delivery import read_delivery

ITSELF = "an older version of itself (--against)"


class _Later:
    """A module of the bench, imported when a row needs it: what an older version cannot import
    keeps no other row from being measured there."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __getattr__(self, name: str) -> Any:
        return getattr(import_module(f"bench.{self._name}"), name)


classify = _Later("classify")
clusters = _Later("clusters")
derive = _Later("derive")
layouts = _Later("layouts")
lists = _Later("lists")
look = _Later("look")
methods = _Later("methods")
page = _Later("page")
points = _Later("points")
scenes = _Later("scenes")
tidy = _Later("tidy")
tiles = _Later("tiles")
training = _Later("training")
whole_runs = _Later("whole_runs")


@dataclass(frozen=True)
class Row:
    """``compared_with``: in words, what the row's results stand beside."""

    compared_with: str
    measure: Callable[[Ground], Result | Iterable[Result]]
    needs_page: bool = False

    def results(self, ground: Ground) -> list[Result]:
        found = self.measure(ground)
        return [found] if isinstance(found, Result) else list(found)


ROWS: dict[str, Row] = {
    "in-memory": Row(
        "scikit-learn's quadratic discriminant analysis",
        lambda g: classify.in_memory(g.demo, classify.demo_samples(g.demo, g.sites)),
    ),
    "methods": Row("scikit-learn, NumPy and SciPy", lambda _: methods.all_methods()),
    "clusters": Row(
        "scikit-learn's KMeans, and rasterio's copy of the bands",
        lambda g: clusters.clusters(g.large),
    ),
    "tidy": Row("SciPy's generic_filter, rasterio's sieve", lambda _: tidy.tidying()),
    "polygons": Row("rasterio's shapes", lambda _: tidy.polygons()),
    "whole-run": Row(
        "rasterio's copy of the bands",
        lambda g: classify.whole_run(g.metadata, g.sites, g.large),
    ),
    "whole-runs": Row(
        "four times a quarter of the pixels",
        lambda g: whole_runs.whole_runs(g.metadata, g.sites, g.large),
    ),
    "keep-scene": Row(
        "rasterio's copy of the same pixels", lambda g: scenes.keeping(g.twelve, g.folder)
    ),
    "keep-index": Row(
        "rasterio's copy of a band, and NumPy", lambda g: derive.keep_index(g.twelve, g.folder)
    ),
    "keep-components": Row("NumPy", lambda g: derive.keep_components(g.twelve, g.folder)),
    "keep-stripes": Row("SciPy", lambda g: derive.keep_stripes(g.twelve, g.folder)),
    "keep-sharpened": Row("SciPy", lambda g: derive.keep_sharpened(g.twelve, g.folder)),
    "tile-demo": Row(
        "rasterio and Pillow without a server",
        lambda g: tiles.imagery(g.at, g.at.demo_scene_id, g.demo, 60),
    ),
    "tile-large": Row(
        "rasterio and Pillow without a server",
        lambda g: tiles.imagery(g.at, g.at.large_scene_id, read_delivery(g.large), 150),
    ),
    "tile-live": Row(
        "scikit-learn on the same pixels", lambda g: tiles.live(g.at, g.demo, g.sites)
    ),
    "redraw": Row("scikit-learn on the same pixels", lambda g: tiles.redraw(g.at, g.demo, g.sites)),
    "first-look": Row("rasterio's decimated read", lambda g: layouts.first_looks(g.folder)),
    "first-page": Row(ITSELF, lambda g: page.first_page(g.at), needs_page=True),
    "readout": Row("rasterio's sample", lambda g: look.readout(g.at, g.demo)),
    "feature-space": Row(
        "rasterio's decimated read and NumPy",
        lambda g: look.feature_space(g.at, read_delivery(g.large)),
    ),
    "cloud": Row(ITSELF, lambda g: look.cloud(g.at)),
    "restretch": Row(ITSELF, lambda g: look.restretch(g.at)),
    "viewers": Row(ITSELF, lambda g: look.viewers(g.at)),
    "panning": Row(ITSELF, lambda g: look.panning(g.at), needs_page=True),
    "pointing": Row(ITSELF, lambda g: look.pointing(g.at), needs_page=True),
    "preview": Row("NumPy on the whole scene", lambda g: derive.preview(g.at, g.demo)),
    "stack": Row(
        "copying the bands into one file, and NumPy",
        lambda g: scenes.stack_on_screen(g.at, g.twelve.parent),
    ),
    "upload": Row("a plain socket", lambda g: scenes.upload(g.at, g.folder)),
    "points-4": Row(ITSELF, lambda g: points.points_to_map(g.at, g.demo, g.sites, g.folder, 4)),
    "points-36": Row(ITSELF, lambda g: points.points_to_map(g.at, g.demo, g.sites, g.folder, 36)),
    "polygons-in": Row(ITSELF, lambda g: points.polygons_in(g.at, g.demo, g.sites, g.folder)),
    "accuracy": Row(ITSELF, lambda g: lists.accuracy(g.at, read_delivery(g.large))),
    "layer-names": Row(ITSELF, lambda g: lists.layer_names(g.at)),
    "live-forest": Row(ITSELF, lambda g: training.live_forest(g.at)),
    "advice": Row(ITSELF, lambda g: training.advice(g.at)),  # it leaves a thousand sites behind
}
