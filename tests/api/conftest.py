"""The application as a client sees it, on the tests' own PostgreSQL."""

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from kitesort.api.main import create_app


@pytest.fixture
def client(store: str) -> Iterator[TestClient]:
    assert store
    with TestClient(create_app(), raise_server_exceptions=False) as made:
        yield made
