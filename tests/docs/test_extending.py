"""The files that the page on extending shows are whole: put into folders of the program's own
packages, they are found, offered and used."""

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from support.small_scene import SmallScene

ROOT = Path(__file__).parents[2]
SHOWN = re.compile(r"^`core/(\S+)/(\w+\.py)`\n\n```python\n(.*?)```", re.DOTALL | re.MULTILINE)
TRY = """
import importlib, json, sys
from pathlib import Path
folder, metadata = Path(sys.argv[1]), Path(sys.argv[2])
for package in json.loads(sys.argv[3]):
    importlib.import_module(package).__path__.append(str(folder / package))

import numpy as np
from fastapi.testclient import TestClient

from kitesort.api.main import create_app
from kitesort.core.training.samples import TrainingSamples
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.recognise import recognise
from kitesort.core.engine import UNWATCHED
from kitesort.core.recipe import LayerLeaf, LayerReader, apply_operation, open_recipe

client = TestClient(create_app(), "http://127.0.0.1")  # not entered: without a database
told = {
    name: [entry["id"] for entry in client.get(f"/api/{name}").json()]
    for name in (
        "corrections", "combinations", "derivations", "classifiers", "clusterings", "tidyings"
    )
}
delivery = read_delivery(metadata)
reader = LayerReader(lambda _, excluded: open_delivery(delivery, excluded), lambda _: delivery)
leaf = LayerLeaf(layer_id=1, name="x")

def values(operation, inputs, **settings):
    raster = open_recipe(apply_operation(inputs, operation, settings, reader, str), reader)
    return raster.read(raster.grid.whole).values

plain = reader.open_layer(1, ("fill",))
nir = plain.read(plain.grid.whole, ("nir",)).values[0]
same = lambda a, b: bool(np.allclose(a[np.isfinite(a)], b[np.isfinite(a)], rtol=1e-5))
told["brighter"] = same(values("brighten", (leaf,), factor=2.0)[2], 2 * nir)
told["greatest"] = same(values("brightest", (leaf, leaf))[2], nir)
told["half"] = same(values("halved", (leaf,))[0], nir / 2)
spec = CLASSIFIERS["nearest"]
pixels = np.array([[0.0, 1.0], [0.1, 0.9], [1.0, 0.0]], np.float32)
codes = np.array([1, 1, 2], np.uint16)
samples = TrainingSamples.of_pixels(pixels, codes, ("red", "nir"), {1: "a", 2: "b"})
model = spec.fit(samples, spec.settings(), 0, UNWATCHED)
again = spec.restore(("red", "nir"), model.arrays())
told["codes"] = again.classify(np.ascontiguousarray(pixels.T)).tolist()
(folder / "sent").mkdir()
(folder / "sent" / "a.refused").write_text("x")
told["problems"] = list(recognise(take_inventory(folder / "sent")).problems)
print(json.dumps(told))
"""


@pytest.fixture(scope="module")
def shown(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, list[str]]:
    """A folder with the page's files, by package, and the packages."""
    folder = tmp_path_factory.mktemp("added")
    packages = []
    for package, name, text in SHOWN.findall((ROOT / "docs/extending.md").read_text("utf-8")):
        dotted = f"kitesort.core.{package.replace('/', '.')}"
        packages.append(dotted)
        (folder / dotted).mkdir(exist_ok=True)
        (folder / dotted / name).write_text(text)
    return folder, packages


def test_every_kind_of_file_is_shown(shown: tuple[Path, list[str]]) -> None:
    assert [package.removeprefix("kitesort.core.") for package in shown[1]] == [
        "correct.methods", "correct.combinations", "derive.methods", "tidy.methods",
        "classify.methods",
        "cluster.methods", "delivery.formats",
    ]  # fmt: skip


def test_what_is_added_is_found_and_works(
    shown: tuple[Path, list[str]], small_scene: SmallScene
) -> None:
    folder, packages = shown
    done = subprocess.run(
        [sys.executable, "-c", TRY, str(folder), str(small_scene.metadata), json.dumps(packages)],
        capture_output=True, check=False, text=True, cwd=ROOT,
        env=os.environ | {"PYTHONPATH": "src"},
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    for name, added in (
        ("corrections", "brighten"), ("combinations", "brightest"), ("derivations", "halved"),
        ("classifiers", "nearest"), ("clusterings", "corners"), ("tidyings", "blank"),
    ):  # fmt: skip
        assert added in told[name]
    assert told["brighter"] and told["greatest"] and told["half"]
    assert told["codes"] == [1, 1, 2]
    assert told["problems"] == ["a.refused is of a kind that cannot be read."]


def test_files_that_are_shown_keep_the_style(shown: tuple[Path, list[str]]) -> None:
    done = subprocess.run(
        [sys.executable, "-m", "ruff", "check", "--config", str(ROOT / "pyproject.toml"),
         str(shown[0])],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stdout
