"""Maximum likelihood: of an array in memory, and of a whole large scene from file to file."""

import json
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import numpy.typing as npt
from sklearn.discriminant_analysis import QuadraticDiscriminantAnalysis

from bench.process import compare, measure
from bench.result import Result, is_below, timed
from bench.scene import ROLES, SIDE
from bench.sizes import size
from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings, fit
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.delivery import DeliveredScene, open_delivery
from kitesort.core.engine import Watch
from kitesort.core.outline import parse_site
from kitesort.core.site_pixels import site_pixels
from kitesort.core.training.samples import TrainingSamples

N_PIXELS = size(4_000_000, 40_000)
MEMORY_LIMIT_MIB = 2048.0


def demo_samples(demo: DeliveredScene, sites: Path) -> TrainingSamples:
    raster = open_delivery(demo)
    values, codes = [], []
    for feature in json.loads(sites.read_text())["features"]:
        pixels = site_pixels(raster, parse_site(feature["geometry"]), ROLES)
        values.append(pixels.values)
        codes.append(np.full(pixels.n_valid, feature["properties"]["code"], np.uint8))
    names = {code: str(code) for code in range(1, 10)}
    return TrainingSamples.of_pixels(np.concatenate(values), np.concatenate(codes), ROLES, names)


def in_memory(demo: DeliveredScene, samples: TrainingSamples) -> Result:
    raster = open_delivery(demo)
    block = raster.read(raster.grid.whole, ROLES)
    scene = np.ascontiguousarray(block.values[:, block.valid])
    pixels = np.tile(scene, (1, N_PIXELS // scene.shape[1] + 1))[:, :N_PIXELS]
    model = fit(samples, MaximumLikelihoodSettings.model_validate({}), 0, Watch())
    ours = seconds_on_all_cores(model, pixels)
    reference = QuadraticDiscriminantAnalysis(priors=[1 / 9] * 9, tol=1e-12)
    reference.fit(samples.values, samples.codes)
    rows = np.ascontiguousarray(pixels.T)
    other = timed(lambda: reference.predict(rows))
    return Result(
        f"maximum likelihood, {N_PIXELS / 1e6:.0f} million pixels in memory, 6 bands, 9 classes",
        ours, other, "scikit-learn QDA", "s", "at least 8 × as fast", other / ours >= 8,
    )  # fmt: skip


def seconds_on_all_cores(model: TrainedClassifier, pixels: npt.NDArray[np.float32]) -> float:
    """As the engine does it: blocks, as they were read, on threads; the least of three times."""
    starts = range(0, pixels.shape[1], 2**18)
    blocks = [np.ascontiguousarray(pixels[:, i : i + 2**18]) for i in starts]
    with ThreadPoolExecutor(2) as pool:
        return timed(lambda: list(pool.map(model.classify, blocks)), repeats=3)


WHOLE_RUN = """
import sys, time
from pathlib import Path
from bench.classify import demo_samples
from bench.process import print_used
from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings, fit
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.engine import Watch
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.legend import LegendEntry
from kitesort.core.raster.class_file import write_class_map
demo, sites, large, target = sys.argv[1:]
samples = demo_samples(read_delivery(Path(demo)), Path(sites))
model = fit(samples, MaximumLikelihoodSettings(), 0, Watch())
started = time.perf_counter()
raster = class_map_raster(open_delivery(read_delivery(Path(large))), model, ())
legend = tuple(LegendEntry(c, str(c), "#10203%d" % c) for c in range(1, 10))
write_class_map(raster, legend, Path(target))
seconds = time.perf_counter() - started
print_used(seconds)
"""
PLAIN_COPY = """
import sys, time
from pathlib import Path
from bench.process import print_used
import rasterio.shutil
started = time.perf_counter()
for band in sorted(Path(sys.argv[1]).parent.glob("*.tif")):
    rasterio.shutil.copy(band, Path(sys.argv[2]) / band.name, driver="COG", COMPRESS="DEFLATE",
                         PREDICTOR="YES", NUM_THREADS="ALL_CPUS")
seconds = time.perf_counter() - started
print_used(seconds)
"""


def whole_run(demo: Path, sites: Path, large: Path) -> list[Result]:
    with tempfile.TemporaryDirectory(dir=large.parent.parent) as name:
        target = str(Path(name) / "map.tif")
        ours, memory = measure(WHOLE_RUN, str(demo), str(sites), str(large), target)
        other, other_memory = compare(PLAIN_COPY, str(large), name)
    return [
        Result(f"classify {SIDE} × {SIDE}, 6 bands, file to file", ours, other,
               "copying the six bands to COG", "s", "below 3 × the copy", is_below(ours, 3, other)),
        Result("its memory", memory, other_memory, "that of the copy", "MiB", "below 2 GiB",
               memory < MEMORY_LIMIT_MIB),
    ]  # fmt: skip
