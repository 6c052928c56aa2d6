"""Files sent into a study over the web, and scenes taken from them."""

from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient


def new_delivery(client: TestClient, study_id: int) -> int:
    answer = client.post(f"/api/studies/{study_id}/deliveries", json={"name": "Scene"})
    assert answer.status_code == 201
    return int(answer.json()["id"])


def send(
    client: TestClient, delivery: int, path: str, content: bytes, offset: int = 0,
    size: int | None = None,
) -> Any:  # fmt: skip
    query = {"path": path, "offset": offset, "size": len(content) if size is None else size}
    return client.put(f"/api/deliveries/{delivery}/file", params=query, content=content)


def send_folder(client: TestClient, study_id: int, folder: Path) -> int:
    delivery = new_delivery(client, study_id)
    for path in sorted(p for p in folder.rglob("*") if p.is_file()):
        name = path.relative_to(folder).as_posix()
        assert send(client, delivery, name, path.read_bytes()).status_code == 200
    return delivery


def findings(client: TestClient, delivery: int) -> Any:
    answer = client.get(f"/api/deliveries/{delivery}/findings")
    assert answer.status_code == 200, answer.text
    return answer.json()


def order_of(proposal: Any, **changes: Any) -> dict[str, Any]:
    """The proposal as it is, as an order to take it."""
    bands = [{k: b[k] for k in ("position", "role", "wavelength_um", "gain", "offset", "used")}
             for b in proposal["bands"]]  # fmt: skip
    keys = ("position", "sensor", "acquired", "fill_value")
    return {k: proposal[k] for k in keys} | {"title": proposal["name"], "bands": bands} | changes


def take(client: TestClient, delivery: int, *orders: dict[str, Any]) -> Any:
    return client.post(f"/api/deliveries/{delivery}/scenes", json={"scenes": list(orders)})
