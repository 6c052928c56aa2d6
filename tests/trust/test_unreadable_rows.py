"""A row that cannot be read never takes a list with it: every stored JSON column is poisoned in
turn, in every way."""

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from kitesort.runs.perform import perform_run
from kitesort.store.database import db, transaction
from support.study import ROLES, SmallStudy

LISTS = (
    "", "/scenes", "/sites", "/classes", "/runs", "/maps", "/trained-classifiers", "/deliveries",
    "/presets", "/notes", "/edits", "/training", "/judgement", "/layer-names",
)  # fmt: skip
POISON = ("[]", "{}", '"x"', "5", "null", '{"a": 1}', "[" * 300 + "]" * 300,
          '{"a":' * 300 + "1" + "}" * 300)  # fmt: skip
# The queue's own, and what is read by the one that asks for it.
NO_LISTS = {("procrastinate_jobs", "args"), ("density", "found"), ("layer", "recipe"),
            ("layer", "statistics")}  # fmt: skip


def columns() -> list[tuple[str, str]]:
    with transaction():
        found = db.execute_sql(
            "SELECT table_name, column_name FROM information_schema.columns WHERE table_schema = "
            "'public' AND data_type IN ('json', 'jsonb') ORDER BY 1, 2"
        )
        return [(table, column) for table, column in found.fetchall()]


def fill(client: TestClient, s: SmallStudy) -> None:
    """At least one row in every table."""
    base = f"/api/studies/{s.id}"
    order = {"scene_id": s.scene_id, "roles": list(ROLES), "method": "maximum-likelihood"}
    made = client.post(f"{base}/runs", json=order).json()
    perform_run(made["id"])
    preset = {"kind": "formula", "name": "Mine", "content": {"formula": "nir - red"}}
    assert client.post(f"{base}/presets", json=preset).status_code == 201
    site = client.get(f"{base}/sites", params={"scene_id": s.scene_id}).json()[0]
    answer = client.patch(
        f"/api/sites/{site['id']}", json={"note": "wet"}, params={"scene_id": s.scene_id}
    )
    assert answer.status_code == 200


def poison(table: str, column: str, value: str) -> list[tuple[int, Any]]:
    """What stood there."""
    with transaction():
        rows = db.execute_sql(f'SELECT id, "{column}" FROM "{table}"').fetchall()
        db.execute_sql(f'UPDATE "{table}" SET "{column}" = %s::jsonb', (value,))
    return [(row_id, stored) for row_id, stored in rows]


def heal(table: str, column: str, rows: list[tuple[int, Any]]) -> None:
    with transaction():
        for row_id, stored in rows:
            db.execute_sql(
                f'UPDATE "{table}" SET "{column}" = %s::jsonb WHERE id = %s',
                (None if stored is None else json.dumps(stored), row_id),
            )


@pytest.mark.slow("It asks for every list again and again.")
def test_no_list_goes_with_a_row(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    fill(client, s)
    poisoned = [one for one in columns() if one not in NO_LISTS]
    assert len(poisoned) > 9
    for table, column in poisoned:
        for value in POISON:
            rows = poison(table, column, value)
            assert rows, f"nothing in {table}"
            for what in ("/api/studies", *(f"/api/studies/{s.id}{one}" for one in LISTS)):
                answer = client.get(what, params={"scene_id": s.scene_id})
                assert answer.status_code == 200, (table, column, value[:9], what, answer.text)
            heal(table, column, rows)
