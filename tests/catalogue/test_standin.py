"""The stand-in answers as the open STAC API says that a catalogue does."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from kitesort.standin.catalogue import create_catalogue
from support.catalogue import fill_catalogue


@pytest.fixture(scope="module")
def api(tmp_path_factory: pytest.TempPathFactory) -> TestClient:
    return TestClient(create_catalogue(fill_catalogue(tmp_path_factory.mktemp("standin"))))


def ids(answer: dict[str, list[dict[str, str]]]) -> list[str]:
    return [feature["id"] for feature in answer["features"]]


def test_the_landing_page_leads_everywhere(api: TestClient) -> None:
    """Source: STAC API core 1.0: type, conformsTo, and links self, root, data, search."""
    landing = api.get("/").json()
    assert landing["type"] == "Catalog" and landing["stac_version"] == "1.0.0"
    assert any(c.endswith("/item-search") for c in landing["conformsTo"])
    assert api.get("/conformance").json()["conformsTo"] == landing["conformsTo"]
    links = {link["rel"]: link["href"] for link in landing["links"]}
    assert {"self", "root", "data", "conformance", "search"} <= set(links)
    for rel in ("self", "data", "conformance", "child", "search"):
        assert api.get(links[rel]).status_code == 200


def test_the_collection_spans_its_items(api: TestClient) -> None:
    (collection,) = api.get("/collections").json()["collections"]
    assert collection == api.get(f"/collections/{collection['id']}").json()
    assert collection["extent"]["temporal"]["interval"] == [
        ["2023-06-10T10:30:00Z", "2023-06-30T10:30:00Z"]
    ]
    items = api.get(f"/collections/{collection['id']}/items").json()
    assert ids(items) == ["A", "B", "C"] and items["numberMatched"] == 3


def test_addresses_are_absolute_and_lead_to_the_files(api: TestClient) -> None:
    item = api.get("/collections/whimbrel-8/items/B").json()
    href = item["assets"]["B1"]["href"]
    assert href.startswith("http://testserver/files/B/")
    assert api.get(href).content[:4] in (b"II*\0", b"MM\0*")
    own = next(link["href"] for link in item["links"] if link["rel"] == "self")
    assert api.get(own).json()["id"] == "B"


@pytest.mark.parametrize(
    ("query", "expected"),
    [
        ({}, ["A", "B", "C"]),
        ({"ids": "C,A"}, ["A", "C"]),
        ({"collections": "other"}, []),
        ({"limit": "2"}, ["A", "B"]),
        ({"datetime": "2023-06-20T10:30:00Z"}, ["B"]),
        ({"datetime": "2023-06-20T10:30:00Z/.."}, ["B", "C"]),
        ({"datetime": "../2023-06-20T10:30:00Z"}, ["A", "B"]),
        ({"datetime": "2023-06-11T00:00:00Z/2023-06-20T10:29:59Z"}, []),
        ({"bbox": "9.05,49.65,9.2,49.8"}, ["A", "B", "C"]),
        ({"bbox": "9.05,49.65,0,9.2,49.8,100"}, ["A", "B", "C"]),
        ({"bbox": "20,20,21,21"}, []),
    ],
)
def test_search_by_address_and_by_body(
    api: TestClient, query: dict[str, str], expected: list[str]
) -> None:
    assert ids(api.get("/search", params=query).json()) == expected
    body: dict[str, object] = dict(query)
    for key in ("ids", "collections"):
        if key in query:
            body[key] = query[key].split(",")
    if "bbox" in query:
        body["bbox"] = [float(v) for v in query["bbox"].split(",")]
    assert ids(api.post("/search", json=body).json()) == expected


def test_search_by_an_outline(api: TestClient) -> None:
    near = {"type": "Polygon", "coordinates": [[[9.09, 49.69], [9.2, 49.69], [9.2, 49.8],
            [9.09, 49.69]]]}  # fmt: skip
    far = {"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1], [0, 0]]]}
    assert len(ids(api.post("/search", json={"intersects": near}).json())) == 3
    assert ids(api.post("/search", json={"intersects": far}).json()) == []


@pytest.mark.parametrize(
    "address", ["/collections/other", "/collections/other/items", "/collections/whimbrel-8/items/Z",
                "/files/nothing.tif", "/files/../items/A.json/x"]
)  # fmt: skip
def test_what_is_not_there(api: TestClient, address: str) -> None:
    assert api.get(address).status_code == 404


def test_an_empty_catalogue_is_one(tmp_path: Path) -> None:
    (tmp_path / "items").mkdir()
    api = TestClient(create_catalogue(tmp_path))
    assert ids(api.get("/search").json()) == []
    assert api.get("/collections").json()["collections"][0]["extent"]["temporal"]
