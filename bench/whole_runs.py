"""Every method from file to file: time against pixels, and memory."""

import tempfile
from collections.abc import Iterator
from pathlib import Path

from bench.classify import MEMORY_LIMIT_MIB
from bench.process import measure
from bench.result import Result, is_below
from bench.sizes import size
from kitesort.core.classify.registry import CLASSIFIERS

SIDE = size(4_000, 300)
METHODS = size(tuple(CLASSIFIERS), ("minimum-distance",))
PROGRAM = """
import sys, time
from pathlib import Path
from bench.classify import demo_samples
from bench.process import print_used
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.engine import UNWATCHED
from kitesort.core.grid import Window
from kitesort.core.legend import LegendEntry
from kitesort.core.raster.class_file import write_class_map
from kitesort.core.raster.window import WindowRaster
demo, sites, large, target, method, side = sys.argv[1:]
samples = demo_samples(read_delivery(Path(demo)), Path(sites))
spec = CLASSIFIERS[method]
model = spec.fit(samples, spec.settings(), 0, UNWATCHED)
started = time.perf_counter()
part = WindowRaster(open_delivery(read_delivery(Path(large))), Window(0, 0, int(side), int(side)))
legend = tuple(LegendEntry(c, str(c), "#10203%d" % c) for c in range(1, 10))
write_class_map(class_map_raster(part, model, ()), legend, Path(target))
print_used(time.perf_counter() - started)
"""


def whole_runs(demo: Path, sites: Path, large: Path) -> Iterator[Result]:
    """A quarter of the pixels beside all of them, so that both columns stand for as many."""
    highest = 0.0
    for method in METHODS:
        spec = CLASSIFIERS[method]
        with tempfile.TemporaryDirectory(dir=large.parent.parent) as name:
            told = str(demo), str(sites), str(large), str(Path(name) / "map.tif"), method
            part, _ = measure(PROGRAM, *told, str(SIDE // 2))
            whole, memory = measure(PROGRAM, *told, str(SIDE))
        highest = max(highest, memory)
        yield Result(f"{spec.title.lower()}, {SIDE} × {SIDE}, 6 bands, file to file", whole,
                     4 * part, "a quarter of it, times 4", "s", "linear in pixels",
                     is_below(whole, 1.2, 4 * part))  # fmt: skip
    yield Result("the most memory of these", highest, None, "", "MiB", "below 2 GiB",
                 highest < MEMORY_LIMIT_MIB)  # fmt: skip
