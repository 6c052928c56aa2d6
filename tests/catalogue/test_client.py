"""The catalogue's client against the stand-in, and against servers that misbehave."""

from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest

from kitesort.catalogue.addresses import guarded_session, origin_of, require_allowed_address
from kitesort.catalogue.client import (
    Query,
    fetch_file,
    fetch_picture,
    get_item,
    search,
    wanted_assets,
)
from kitesort.core.errors import CancelledError, CatalogueError, RefusedAddressError
from support.catalogue import fill_catalogue, misbehaving, served_catalogue

EVERYTHING = Query(None, None, None, None)


@pytest.fixture(scope="module")
def catalogue(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    with served_catalogue(fill_catalogue(tmp_path_factory.mktemp("catalogue"))) as address:
        yield address


@pytest.fixture(autouse=True)
def allowed(catalogue: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KITESORT_CATALOGUES", catalogue)
    monkeypatch.setenv("KITESORT_DOWNLOADS", "")


def allow(monkeypatch: pytest.MonkeyPatch, address: str) -> str:
    monkeypatch.setenv("KITESORT_CATALOGUES", address)
    return address


def ids(query: Query, catalogue: str) -> list[str]:
    return [scene.id for scene in search(catalogue, query)]


def test_everything_newest_first(catalogue: str) -> None:
    found = search(catalogue, EVERYTHING)
    assert [s.id for s in found] == ["C", "B", "A"]
    newest = found[0]
    assert (newest.title, newest.acquired) == ("Scene C", date(2023, 6, 30))
    assert (newest.cloud_percent, newest.bands) == (5.0, ("blue", "red", "nir"))
    assert newest.picture == f"{catalogue}files/C/look.png"


@pytest.mark.parametrize(
    ("query", "expected"),
    [
        (Query(None, date(2023, 6, 20), None, None), ["C", "B"]),
        (Query(None, None, date(2023, 6, 20), None), ["B", "A"]),
        (Query(None, date(2023, 6, 10), date(2023, 6, 10), None), ["A"]),
        (Query(None, None, None, 5.0), ["C", "A"]),
        (Query((9.05, 49.65, 9.2, 49.8), None, None, None), ["C", "B", "A"]),
        (Query((20, 20, 21, 21), None, None, None), []),
    ],
)
def test_area_dates_and_cloud(query: Query, expected: list[str], catalogue: str) -> None:
    """Both ends of the dates are included, to the last second of the last day."""
    assert ids(query, catalogue) == expected


def test_a_scene_s_files_are_fetched_whole(catalogue: str, tmp_path: Path) -> None:
    item = get_item(catalogue, "whimbrel-8", "A")
    assets = wanted_assets(item)
    assert sorted(assets.values()) == ["A_B1.tif", "A_B2.tif", "A_B3.tif", "A_quality.tif"]
    url, name = next(iter(assets.items()))
    got: list[int] = []
    fetch_file(url, tmp_path / name, got.append, lambda: False)
    assert sum(got) == (tmp_path / name).stat().st_size > 500
    with pytest.raises(CancelledError):
        fetch_file(url, tmp_path / "other.tif", got.append, lambda: True)
    assert [p.name for p in tmp_path.iterdir()] == [name]


def test_quick_looks_are_pictures(catalogue: str) -> None:
    content, kind = fetch_picture(f"{catalogue}files/A/look.png")
    assert content.startswith(b"\x89PNG") and kind == "image/png"
    with pytest.raises(CatalogueError, match="no picture"):
        fetch_picture(f"{catalogue}files/A/A_B1.tif")
    with pytest.raises(CatalogueError, match="cannot be reached"):
        fetch_picture(f"{catalogue}files/A/nothing.png")


def test_a_scene_that_has_gone(catalogue: str) -> None:
    with pytest.raises(CatalogueError, match="does not have the scene Z any more"):
        get_item(catalogue, "whimbrel-8", "Z")


@pytest.mark.parametrize(
    "address",
    ["http://127.0.0.1:1/", "https://example.invalid/", "file:///etc/passwd", "ftp://x/", "",
     "http://127.0.0.1:99999/", "http://[::1"],
)  # fmt: skip
def test_addresses_that_nobody_allowed(address: str) -> None:
    with pytest.raises(RefusedAddressError, match="not among those"):
        require_allowed_address(address)
    with pytest.raises(RefusedAddressError, match="not among those"):
        search(address, EVERYTHING)
    with pytest.raises(RefusedAddressError, match="not among those"):
        fetch_file(address, Path("x"), lambda _: None, lambda: False)


def test_origins_know_their_usual_ports() -> None:
    assert origin_of("https://a.example/x") == origin_of("https://A.example:443/y")
    assert origin_of("http://a.example") != origin_of("https://a.example")


def test_a_redirect_elsewhere_is_not_followed(monkeypatch: pytest.MonkeyPatch) -> None:
    with (
        misbehaving(200, b"secret") as secret,
        misbehaving(302, b"", Location=secret) as address,
    ):
        allow(monkeypatch, address)
        with pytest.raises(RefusedAddressError, match="not among those"):
            search(address, EVERYTHING)
        with (
            guarded_session() as session,
            pytest.raises(RefusedAddressError, match="not among those"),
        ):
            session.get(address)


@pytest.mark.parametrize(
    ("status", "body", "sentence"),
    [
        (200, b"<html>hello</html>", "not a STAC API"),
        (200, b'{"type": "Catalog"}', "not a STAC API"),
        (200, b"[1, 2", "not a STAC API"),
        (500, b"broken", "not a STAC API|cannot be reached"),
        (404, b"{}", "not a STAC API|cannot be reached"),
    ],
)
def test_nonsense(status: int, body: bytes, sentence: str, monkeypatch: pytest.MonkeyPatch) -> None:
    with misbehaving(status, body) as address:
        allow(monkeypatch, address)
        with pytest.raises(CatalogueError, match=sentence):
            search(address, EVERYTHING)


def test_down(monkeypatch: pytest.MonkeyPatch) -> None:
    with misbehaving(200, b"") as address:
        pass
    allow(monkeypatch, address)
    with pytest.raises(CatalogueError, match=r"cannot be reached\. The study is untouched"):
        search(address, EVERYTHING)


def test_slow(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("kitesort.catalogue.addresses.TIMEOUT_SECONDS", (0.3, 0.3))
    with misbehaving(200, b"{}", pause=1.0) as address:
        allow(monkeypatch, address)
        with pytest.raises(CatalogueError, match="does not answer in time"):
            search(address, EVERYTHING)


def test_an_answer_without_end(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("kitesort.catalogue.addresses.MAX_ANSWER_BYTES", 1000)
    with misbehaving(200, b"x" * 100_000) as address:
        allow(monkeypatch, address)
        with pytest.raises(CatalogueError, match="far too large"):
            search(address, EVERYTHING)


def test_a_file_cut_short(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    with misbehaving(200, b"x" * 100, Content_Length="5000") as address:
        allow(monkeypatch, address)
        with pytest.raises(CatalogueError):
            fetch_file(f"{address}a.tif", tmp_path / "a.tif", lambda _: None, lambda: False)
    assert not (tmp_path / "a.tif").exists()


@pytest.mark.parametrize(
    "assets",
    [
        {},
        {"look": {"href": "http://x/look.png", "roles": ["thumbnail"]}},
        {"a": {"href": "http://x/.hidden", "roles": ["data"]}},
        {"a": {"href": "http://x/1/b.tif", "roles": ["data"]},
         "b": {"href": "http://x/2/b.tif", "roles": ["data"]}},
    ],
)  # fmt: skip
def test_items_that_offer_nothing_usable(assets: dict[str, object]) -> None:
    with pytest.raises(CatalogueError):
        wanted_assets({"assets": assets})
