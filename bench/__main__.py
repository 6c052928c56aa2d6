"""``bench/run``: measure, and print one table with the machine."""

import argparse
from pathlib import Path

from bench import classify, derive, look, page, scenes, tiles
from bench.result import print_table
from bench.scene import make_large_scene
from bench.server import served
from kitesort.core.delivery import read_delivery
from kitesort.demo.generate import generate_demo


def main() -> None:
    parser = argparse.ArgumentParser(prog="bench/run")
    parser.add_argument("--folder", type=Path, default=Path("data/bench"),
                        help="where the scenes that are measured on are made and kept")  # fmt: skip
    folder = parser.parse_args().folder.resolve()
    folder.mkdir(parents=True, exist_ok=True)
    demo_folder = folder / "demo"
    if not (demo_folder / "boundary.geojson").exists():
        generate_demo(demo_folder)
    (metadata,) = demo_folder.glob("scenes/WHB8_20240718*/*_metadata.txt")
    sites = demo_folder / "training_sites.json"
    demo = read_delivery(metadata)
    print("Making the large scene, unless it is there …", flush=True)
    large = make_large_scene(demo, folder / "large")
    twelve = scenes.make_twelve_bands(large, folder / "twelve")
    print("Keeping …", flush=True)
    kept = [*scenes.keeping(twelve, folder), *derive.keeping(twelve, folder)]
    kept += derive.filtering(twelve, folder)
    print("Classifying …", flush=True)
    results = [classify.in_memory(demo, classify.demo_samples(demo, sites))]
    results += classify.whole_run(metadata, sites, large)
    print("Asking for tiles …", flush=True)
    with served(folder, demo_folder, large) as at:
        results += [
            tiles.imagery(at, at.demo_scene_id, demo, 60),
            tiles.imagery(at, at.large_scene_id, read_delivery(large), 150),
            tiles.live(at, demo, sites),
            tiles.redraw(at, demo, sites),
            *page.first_page(at),
            look.readout(at, demo),
            look.feature_space(at, read_delivery(large)),
            look.cloud(at),
            look.restretch(at),
            look.viewers(at),
            look.panning(at),
            derive.preview(at, demo),
            *scenes.stack_on_screen(at, folder / "twelve"),
            *scenes.upload(at, folder),
        ]
    print_table([*results, *kept])


if __name__ == "__main__":
    main()
