"""Somebody at work on a study over HTTP, as a browser is."""

import json
from pathlib import Path
from time import perf_counter, sleep
from typing import Any

import httpx

from bench.server import Served

POLL_S = 0.05


class Desk:
    """A study's routes for one scene; every answer that is no success raises."""

    def __init__(self, client: httpx.Client, served: Served, scene_id: int) -> None:
        self.client, self.base = client, f"/api/studies/{served.study_id}"
        self.scene_id = scene_id
        self.classes: list[dict[str, Any]] = self.get("classes")

    def get(self, what: str, **query: Any) -> Any:
        query = {"scene_id": self.scene_id} | query
        return self.client.get(f"{self.base}/{what}", params=query).raise_for_status().json()

    def post(self, what: str, body: Any, **query: Any) -> Any:
        answer = self.client.post(f"{self.base}/{what}", json=body, params=query)
        return answer.raise_for_status().json()

    def keep_file(self, path: Path) -> str:
        """Hand over a file with sites; its token."""
        answer = self.client.post(
            f"{self.base}/ground-files", content=path.read_bytes(), params={"name": path.name}
        )
        return str(answer.raise_for_status().json()["token"])

    def look_at(self, path: Path, token: str, crs: str | None) -> dict[str, Any]:
        body = {"token": token, "name": path.name, "scene_id": self.scene_id, "crs": crs}
        found: dict[str, Any] = self.post("ground", body)
        return found

    def take(self, path: Path, token: str, crs: str | None, found: dict[str, Any]) -> None:
        """Bring a file's sites in, and wait until they are there."""
        wanted = {v["value"]: {"class_id": v["class_id"], "name": v["name"]}
                  for v in found["values"]}  # fmt: skip
        body = {"token": token, "name": path.name, "scene_id": self.scene_id, "crs": crs,
                "attribute": found["attribute"], "wanted": wanted}  # fmt: skip
        self.wait_for(self.post("ground-takes", body)["id"])

    def keep_map(self, roles: list[str], method: str = "minimum-distance") -> int:
        """Order a class map of the scene; its id, once it is made."""
        order = {"scene_id": self.scene_id, "roles": roles, "method": method}
        return int(self.wait_for(self.post("runs", order)["id"])["layer_id"])

    def undo(self) -> None:
        self.post("undo", None)

    def wait_for(self, run_id: int) -> dict[str, Any]:
        """The run, once it is done."""
        while True:
            run: dict[str, Any] = next(r for r in self.get("runs") if r["id"] == run_id)
            if run["state"] == "done":
                return run
            if run["state"] not in ("waiting", "running"):
                raise RuntimeError(f"{run['title']}: {run['problem']}")
            sleep(POLL_S)

    def seconds(self, what: str, **query: Any) -> float:
        """That an answer takes."""
        started = perf_counter()
        self.get(what, **query)
        return perf_counter() - started

    def training(self, method: str = "minimum-distance", **query: Any) -> Any:
        """The training state, once the method has been trained."""
        text = json.dumps({"id": method, "settings": {}, "seed": 0})
        while True:
            state = self.get("training", method=text, **query)
            if not state["live"]["pending"]:
                return state
            sleep(POLL_S)
