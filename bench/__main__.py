"""``bench/run [ROW …]``: measure, and print each row as soon as it is known."""

import argparse
import traceback
from collections.abc import Callable, Iterable
from contextlib import ExitStack
from pathlib import Path

from bench import (
    classify,
    clusters,
    derive,
    layouts,
    look,
    methods,
    page,
    scenes,
    tidy,
    tiles,
    training,
    whole_runs,
)
from bench.ground import Ground
from bench.result import Result, machine, print_result
from kitesort.core.delivery import read_delivery

Row = Callable[[Ground], Result | Iterable[Result]]
ROWS: dict[str, Row] = {
    "in-memory": lambda g: classify.in_memory(g.demo, classify.demo_samples(g.demo, g.sites)),
    "methods": lambda _: methods.all_methods(),
    "clusters": lambda g: clusters.clusters(g.large),
    "tidy": lambda _: tidy.tidying(),
    "polygons": lambda _: tidy.polygons(),
    "whole-run": lambda g: classify.whole_run(g.metadata, g.sites, g.large),
    "whole-runs": lambda g: whole_runs.whole_runs(g.metadata, g.sites, g.large),
    "keep-scene": lambda g: scenes.keeping(g.twelve, g.folder),
    "keep-index": lambda g: derive.keep_index(g.twelve, g.folder),
    "keep-components": lambda g: derive.keep_components(g.twelve, g.folder),
    "keep-stripes": lambda g: derive.keep_stripes(g.twelve, g.folder),
    "keep-sharpened": lambda g: derive.keep_sharpened(g.twelve, g.folder),
    "tile-demo": lambda g: tiles.imagery(g.at, g.at.demo_scene_id, g.demo, 60),
    "tile-large": lambda g: tiles.imagery(g.at, g.at.large_scene_id, read_delivery(g.large), 150),
    "tile-live": lambda g: tiles.live(g.at, g.demo, g.sites),
    "redraw": lambda g: tiles.redraw(g.at, g.demo, g.sites),
    "first-look": lambda g: layouts.first_looks(g.folder),
    "first-page": lambda g: page.first_page(g.at),
    "readout": lambda g: look.readout(g.at, g.demo),
    "feature-space": lambda g: look.feature_space(g.at, read_delivery(g.large)),
    "cloud": lambda g: look.cloud(g.at),
    "restretch": lambda g: look.restretch(g.at),
    "viewers": lambda g: look.viewers(g.at),
    "panning": lambda g: look.panning(g.at),
    "pointing": lambda g: look.pointing(g.at),
    "preview": lambda g: derive.preview(g.at, g.demo),
    "stack": lambda g: scenes.stack_on_screen(g.at, g.twelve.parent),
    "upload": lambda g: scenes.upload(g.at, g.folder),
    "live-forest": lambda g: training.live_forest(g.at),
    "advice": lambda g: training.advice(g.at),  # last: it leaves a thousand sites behind
}


def main() -> int:
    parser = argparse.ArgumentParser(prog="bench/run")
    parser.add_argument("rows", nargs="*", metavar="ROW", default=list(ROWS),
                        help=f"only these of: {', '.join(ROWS)}")  # fmt: skip
    parser.add_argument("--folder", type=Path, default=Path("data/bench"),
                        help="where the scenes that are measured on are made and kept")  # fmt: skip
    options = parser.parse_args()
    if unknown := set(options.rows) - set(ROWS):
        parser.error(f"no such row: {', '.join(sorted(unknown))}")
    folder = options.folder.resolve()
    folder.mkdir(parents=True, exist_ok=True)
    print(machine(), flush=True)
    with ExitStack() as parts:
        ground = Ground(folder, parts)
        died = [name for name in options.rows if not _measure(name, ground)]
    if died:
        print(f"Could not be measured: {', '.join(died)}")
    return 1 if died else 0


def _measure(name: str, ground: Ground) -> bool:
    """Whether it could be; the others are measured all the same."""
    try:
        found = ROWS[name](ground)
        for result in [found] if isinstance(found, Result) else found:
            print_result(name, result)
    except Exception:
        traceback.print_exc()
        return False
    return True


if __name__ == "__main__":
    raise SystemExit(main())
