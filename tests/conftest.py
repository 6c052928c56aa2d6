"""Fixtures that several folders of tests share."""

import tempfile
from collections.abc import Generator, Iterator
from pathlib import Path
from typing import Final

import pytest
from fastapi.testclient import TestClient

from kitesort.api.main import create_app
from kitesort.demo.generate import DemoStudy
from support.database import TestStore, empty_store, make_store, stop_cluster
from support.demo_files import demo_files
from support.shared import make_shared_folder, remove_shared_folder
from support.small_scene import SmallScene, write_small_scene
from support.stop_watch import StopWatch
from support.study import SmallStudy, make_small_study

MUCH_TOO_SLOW: Final = 5
OVER_BUDGET: Final = "over its budget"
# Several processes meet in these; the kernel may give each its turn in any order.
OF_SEVERAL_PROCESSES: Final = ("browser", "launch", "trust")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What fails there is tried once more, and told as "R" with its name when it then passes."""
    for item in items:
        if item.path.parent.name in OF_SEVERAL_PROCESSES:
            item.add_marker(pytest.mark.flaky(reruns=1))


def pytest_configure(config: pytest.Config) -> None:
    if not hasattr(config, "workerinput"):
        make_shared_folder()


def pytest_unconfigure(config: pytest.Config) -> None:
    if not hasattr(config, "workerinput"):
        stop_cluster()
        remove_shared_folder()


@pytest.fixture(scope="session")
def own_store() -> TestStore:
    return make_store("store")


@pytest.fixture
def database(own_store: TestStore) -> str:
    """The address of this process's store, which is the one in use from now on."""
    own_store.use()
    return own_store.address


@pytest.fixture
def store(database: str) -> Iterator[str]:
    """The address of a store without any study."""
    empty_store()
    yield database
    empty_store()


@pytest.fixture
def small_study(store: str, small_scene: SmallScene, tmp_path: Path) -> SmallStudy:
    assert store
    return make_small_study(tmp_path / "small", small_scene)


@pytest.fixture
def client(store: str) -> Iterator[TestClient]:
    """The application as a program sees it."""
    assert store
    with TestClient(create_app(), "http://127.0.0.1", raise_server_exceptions=False) as made:
        yield made


@pytest.fixture(scope="session")
def small_scene(tmp_path_factory: pytest.TempPathFactory) -> SmallScene:
    return write_small_scene(tmp_path_factory.mktemp("small"))


@pytest.fixture
def run_folder() -> Iterator[Path]:
    """A data folder that the database server's user can reach."""
    with tempfile.TemporaryDirectory(prefix="kitesort-run-", ignore_cleanup_errors=True) as name:
        folder = Path(name)
        folder.chmod(0o755)
        yield folder


@pytest.fixture(scope="session")
def demo() -> DemoStudy:
    """The whole demo study as files, made once for all processes."""
    return demo_files()


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption(
        "--schema-calls", default="4", help="calls of each kind to each operation of the API"
    )
    parser.addini("slowest_seconds", "how long a test may take that is not marked slow", "string")


@pytest.hookimpl(wrapper=True)
def pytest_runtest_call(item: pytest.Item) -> Generator[None, None, None]:
    """A test that takes too long is named at the end, so that somebody makes it faster or says why
    not; one that takes several times as long fails, which no slow hour of a machine explains. What
    a busy host took from this machine meanwhile does not count."""
    watch = StopWatch()
    yield
    most = float(item.config.getini("slowest_seconds"))
    slow = item.get_closest_marker("slow")
    if watch.seconds > most and (slow is None or not slow.args):
        words = (
            f"It took {watch.seconds:.0f} s; at most {most:.0f} s are given. Make it faster, or "
            'mark it @pytest.mark.slow("reason").'
        )
        if watch.seconds > MUCH_TOO_SLOW * most:
            pytest.fail(words, pytrace=False)
        item.user_properties.append((OVER_BUDGET, words))


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    for report in terminalreporter.getreports("passed"):
        for words in (words for name, words in report.user_properties if name == OVER_BUDGET):
            terminalreporter.write_line(f"OVER ITS BUDGET {report.nodeid}: {words}")
