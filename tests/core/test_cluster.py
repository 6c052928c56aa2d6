"""The same block function on threads and on a Dask cluster gives the same pixels."""

import socket
from pathlib import Path

import numpy as np
import pytest
import rasterio
from distributed import Client, LocalCluster

from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.legend import LegendEntry
from kitesort.core.outline import parse_site
from kitesort.core.raster import keeping
from kitesort.core.raster.class_file import write_class_map
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.site_pixels import site_pixels
from kitesort.core.training.samples import TrainingSamples
from support.fitting import fit
from support.small_scene import COLOURS, GOOD_SITES, NAMES, SmallScene

ROLES = ("blue", "red", "nir", "swir16")


@pytest.fixture
def class_map(small_scene: SmallScene) -> DerivedRaster:
    raster = open_delivery(read_delivery(small_scene.metadata))
    parts = {c: site_pixels(raster, parse_site(g), ROLES).values for c, g in GOOD_SITES.items()}
    samples = TrainingSamples.of_pixels(
        np.concatenate(list(parts.values())),
        np.repeat(np.array(list(parts), np.uint8), [len(p) for p in parts.values()]),
        ROLES,
        NAMES,
    )
    return class_map_raster(raster, fit(samples, MaximumLikelihoodSettings()), ())


@pytest.mark.thorough
@pytest.mark.filterwarnings("ignore")  # what the cluster warns of at its end is not ours
def test_threads_and_cluster_agree(
    class_map: DerivedRaster, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """And the block function is sent once, not with each of the twelve blocks."""
    sent: list[object] = []

    def listen(self: object) -> object:
        sent.append(self)
        return dict(self.__dict__)

    monkeypatch.setattr(keeping._PartsOf, "__getstate__", listen)
    legend = tuple(LegendEntry(c, NAMES[c], COLOURS[c]) for c in NAMES)
    write_class_map(class_map, legend, tmp_path / "threads.tif", block_size=40)
    with (
        LocalCluster(
            n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None,
            host=socket.gethostbyname("localhost"),
        ) as cluster,
        Client(cluster) as client,
    ):  # fmt: skip
        write_class_map(class_map, legend, tmp_path / "cluster.tif", block_size=40,
                        executor=client.get_executor())  # fmt: skip
    with (
        rasterio.open(tmp_path / "threads.tif") as one,
        rasterio.open(tmp_path / "cluster.tif") as two,
    ):
        assert np.array_equal(one.read(1), two.read(1))
        assert one.read(1).any()
    assert 1 <= len(sent) <= 3
