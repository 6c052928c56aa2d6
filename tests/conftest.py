"""Fixtures that several folders of tests share."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from kitesort.demo.generate import DemoStudy, generate_demo
from support.database import empty_store, running_database
from support.small_scene import SmallScene, write_small_scene
from support.study import SmallStudy, make_small_study


@pytest.fixture(scope="session")
def database() -> Iterator[str]:
    with running_database() as address:
        yield address


@pytest.fixture
def store(database: str) -> Iterator[str]:
    """The address of a store without any study."""
    empty_store()
    yield database
    empty_store()


@pytest.fixture
def small_study(store: str, tmp_path: Path) -> SmallStudy:
    assert store
    return make_small_study(tmp_path / "small")


@pytest.fixture(scope="session")
def small_scene(tmp_path_factory: pytest.TempPathFactory) -> SmallScene:
    return write_small_scene(tmp_path_factory.mktemp("small"))


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> DemoStudy:
    """The whole demo study as files, made once."""
    return generate_demo(tmp_path_factory.mktemp("demo"))
