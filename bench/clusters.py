"""Clusters: pixels told in memory, and a whole large scene from file to file."""

import tempfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from sklearn.cluster import KMeans

from bench.classify import MEMORY_LIMIT_MIB, PLAIN_COPY, seconds_on_all_cores
from bench.methods import Ground
from bench.process import compare, measure
from bench.result import Result, is_below, timed
from bench.scene import SIDE
from bench.sizes import size
from kitesort.core.cluster.groups import find_groups
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.cluster.sample import ClusterSample

CLUSTERS, SAMPLE = 10, size(200_000, 5_000)

WHOLE_RUN = """
import sys, time
from pathlib import Path
from bench.process import print_used
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.cluster.groups import find_groups
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.cluster.sample import read_sample
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.legend import LegendEntry
from kitesort.core.raster.class_file import write_class_map
from kitesort.core.raster.protocol import roles_of
large, target = sys.argv[1:]
started = time.perf_counter()
scene = open_delivery(read_delivery(Path(large)))
sample = read_sample(scene, roles_of(scene), 200_000)
spec = CLUSTERINGS["k-means"]
settings = spec.settings(n_clusters=10, start="spread", iterations=20, least_change=0.0)
model = find_groups(sample, spec, settings, 0).model
legend = tuple(LegendEntry(c, str(c), "#1020%02d" % c) for c in range(1, 11))
write_class_map(class_map_raster(scene, model, legend), legend, Path(target))
print_used(time.perf_counter() - started)
"""

EVERY_PIXEL = """
import sys, time
from pathlib import Path
import numpy as np
from bench.process import print_used
from kitesort.core.cluster.every import EveryPixel, move_on
from kitesort.core.cluster.groups import scale_of
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.cluster.sample import read_sample
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.raster.protocol import roles_of
scene = open_delivery(read_delivery(Path(sys.argv[1])))
sample = read_sample(scene, roles_of(scene), 200_000)
settings = CLUSTERINGS["k-means"].settings()
scale = scale_of(sample, settings, False)
pixels = scale(sample.values)
every = EveryPixel(scene, sample.roles, True, scale, float(np.abs(pixels).max()))
started = time.perf_counter()
move_on(every, pixels[:: len(pixels) // 10][:10].copy(), 2, 0.0)
print_used((time.perf_counter() - started) / 3)  # two rounds, and the look at what came of them
"""


def clusters(large: Path) -> Iterator[Result]:
    ground = Ground(1_000, 10 * SAMPLE)
    at = np.arange(SAMPLE)
    sample = ClusterSample(ground.rows[:SAMPLE], at, at, tuple("abcdef"), SAMPLE, False)
    spec = CLUSTERINGS["k-means"]
    model = find_groups(sample, spec, spec.settings.model_validate({"n_clusters": CLUSTERS}), 0)
    reference = KMeans(CLUSTERS, n_init=1).fit(sample.values)
    ours = seconds_on_all_cores(model.model, ground.pixels)
    theirs = timed(lambda: reference.predict(ground.rows), repeats=3)
    yield Result("k-means, 10 clusters, 2 million pixels told", ours, theirs,
                 "scikit-learn predict, all cores", "s", "at least 5 × as fast",
                 theirs / ours >= 5)  # fmt: skip
    for method in ("isodata", "gaussian-mixture"):
        other = CLUSTERINGS[method]
        settings = other.settings.model_validate({"n_clusters": CLUSTERS})
        took = timed(lambda o=other, s=settings: find_groups(sample, o, s, 0))  # type: ignore[misc]
        yield Result(f"{method}, {CLUSTERS} clusters of {SAMPLE:,} pixels", took, None, "–", "s",
                     "below 30 s", took < 30)  # fmt: skip
    with tempfile.TemporaryDirectory(dir=large.parent.parent) as name:
        took, memory = measure(WHOLE_RUN, str(large), str(Path(name) / "clusters.tif"))
        copy, copy_memory = compare(PLAIN_COPY, str(large), name)
    yield Result(f"cluster {SIDE} × {SIDE}, 6 bands, 10 clusters, 20 rounds, file to file", took,
                 copy, "copying the six bands to COG", "s", "at most 1.5 × the copy",
                 is_below(took, 1.5, copy))  # fmt: skip
    yield Result("its memory", memory, copy_memory, "that of the copy", "MiB", "below 2 GiB",
                 memory < MEMORY_LIMIT_MIB)  # fmt: skip
    took, memory = measure(EVERY_PIXEL, str(large))
    yield Result("k-means over every pixel of it, a round", took, copy,
                 "copying the six bands to COG", "s", "–", True)  # fmt: skip
    yield Result("its memory", memory, copy_memory, "that of the copy", "MiB", "below 2 GiB",
                 memory < MEMORY_LIMIT_MIB)  # fmt: skip
