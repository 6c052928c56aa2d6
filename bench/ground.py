"""What is measured on, made when a row first needs it."""

from contextlib import ExitStack
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from bench.scene import make_large_scene
from bench.scenes import make_twelve_bands
from bench.server import Served, served
from kitesort.core.delivery import DeliveredScene, read_delivery
from kitesort.demo.generate import generate_demo


@dataclass
class Ground:
    """``folder`` keeps what was made for the next time; ``parts`` ends what was started."""

    folder: Path
    parts: ExitStack

    @cached_property
    def demo_folder(self) -> Path:
        folder = self.folder / "demo"
        if not (folder / "boundary.geojson").exists():
            print("Making the demo study …", flush=True)
            generate_demo(folder)
        return folder

    @cached_property
    def metadata(self) -> Path:
        (found,) = self.demo_folder.glob("scenes/WHB8_20240718*/*_metadata.txt")
        return found

    @property
    def sites(self) -> Path:
        return self.demo_folder / "training_sites.json"

    @cached_property
    def demo(self) -> DeliveredScene:
        return read_delivery(self.metadata)

    @cached_property
    def large(self) -> Path:
        """Six bands of 10 000 × 10 000."""
        print("Making the large scene, unless it is there …", flush=True)
        return make_large_scene(self.demo, self.folder / "large")

    @cached_property
    def twelve(self) -> Path:
        """Twelve bands of up to 10 980 × 10 980."""
        print("Making twelve bands, unless they are there …", flush=True)
        return make_twelve_bands(self.large, self.folder / "twelve")

    @cached_property
    def at(self) -> Served:
        """The application, running until everything has been measured."""
        return self.parts.enter_context(served(self.folder, self.demo_folder, self.large))
