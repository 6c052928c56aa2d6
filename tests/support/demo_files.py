"""The demo study's files: made once for a version of their generator, linked into each run."""

import hashlib
import os
import shutil
import sys
from pathlib import Path

import numpy as np

import kitesort.demo
from kitesort.core.delivery import METADATA_SUFFIX
from kitesort.demo.generate import PLANS, DemoStudy, generate_catalogue, generate_demo
from support.shared import one_at_a_time, shared_folder

KEPT = Path(sys.prefix) / "demo-files"
FILES, TRUTH = "files", "truth.npy"


def demo_files() -> DemoStudy:
    """As generated, with all the scenes that the stand-in catalogue offers."""
    folder = shared_folder() / "demo"
    with one_at_a_time("demo"):
        if not folder.exists():
            shutil.copytree(make_once() / FILES, folder, copy_function=_link)
    metadata = {
        plan.taken.key: folder / "scenes" / stem / f"{stem}{METADATA_SUFFIX}"
        for plan in PLANS
        for stem in [plan.taken.stem]
    }
    return DemoStudy(folder, metadata, np.load(make_once() / TRUTH))


def is_made() -> bool:
    return (KEPT / _version()).exists()


def make_once() -> Path:
    """The folder of this version of the generator, complete or not there at all."""
    kept = KEPT / _version()
    if not is_made():
        shutil.rmtree(KEPT, ignore_errors=True)
        making = KEPT / "part"
        truth = generate_demo(making / FILES).truth
        generate_catalogue(making / FILES)
        np.save(making / TRUTH, truth)
        making.rename(kept)
    return kept


def _version() -> str:
    """Of the generator's own code, which uses no other of ours, and of what it is built on."""
    sources = sorted(Path(kitesort.demo.__path__[0]).rglob("*.py"))
    requirements = Path(__file__).parents[2] / "requirements.txt"
    digest = hashlib.sha256()
    for path in (*sources, requirements):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def _link(source: str, target: str) -> None:
    try:
        os.link(source, target)
    except OSError:  # another device
        shutil.copy2(source, target)
