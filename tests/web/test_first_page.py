"""What a browser loads before the first page is there stays small, whatever is added."""

import gzip
import re
from pathlib import Path

DIST = Path(__file__).parents[2] / "web" / "dist"
MOST_PACKED = 600_000  # bytes, as a server packs them


def test_scripts_of_the_first_page_are_small() -> None:
    page = (DIST / "index.html").read_text("utf-8")
    scripts = set(re.findall(r'"/?(assets/[^"]+\.js)"', page))
    assert len(scripts) >= 3
    packed = sum(len(gzip.compress((DIST / name).read_bytes())) for name in scripts)
    assert packed < MOST_PACKED, f"{packed:,} bytes"


def test_stations_are_loaded_when_they_are_opened() -> None:
    page = (DIST / "index.html").read_text("utf-8")
    for station in ("train", "correct", "derive", "classify", "check", "deliver"):
        pieces = list((DIST / "assets").glob(f"{station}-*.js"))  # queries may be called alike
        assert pieces and not any(piece.name in page for piece in pieces)
