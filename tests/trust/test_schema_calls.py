"""Calls made from the API's own description: none is answered by a failure of the server, and no
answer contradicts the description.

The generator of calls and its checks are the reference library schemathesis.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, given, seed, settings
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi import checks as described

from kitesort.api.main import create_app
from kitesort.store.files import layer_folder
from support.live_server import live_server
from support.study import SmallStudy

MOST_SECONDS = 5.0
CHECKS = [
    schemathesis.checks.not_a_server_error,
    described.status_code_conformance,
    described.content_type_conformance,
    described.response_schema_conformance,
    described.unsupported_method,
    described.negative_data_rejection,
]
# Where nothing ends: news are sent for as long as somebody listens.
ENDLESS = "/api/studies/{study_id}/events"
SCHEMA = schemathesis.openapi.from_dict(create_app().openapi())
OPERATIONS = {
    f"{operation.ok().method.upper()} {operation.ok().path}": operation.ok()
    for operation in SCHEMA.get_all_operations()
    if operation.ok().path != ENDLESS
}
# What takes away comes last, so that the others find something.
ORDER = sorted(OPERATIONS, key=lambda name: (name.startswith("DELETE"), name))


@dataclass(frozen=True)
class Place:
    address: str
    ids: dict[str, Any]


@pytest.fixture
def place(small_study: SmallStudy) -> Iterator[Place]:
    ids = {
        "study_id": small_study.id,
        "scene_id": small_study.scene_id,
        "reference_id": small_study.scene_id,
        "site_id": small_study.site_ids[1],
        "class_id": small_study.class_ids[1],
        "role": "red",
    }
    assert layer_folder().is_dir()
    with live_server(create_app()) as address:
        yield Place(address, ids)


@pytest.mark.slow("as many calls as the option says")
@pytest.mark.thorough
def test_every_call_is_answered_as_described(place: Place, pytestconfig: pytest.Config) -> None:
    n_calls = int(pytestconfig.getoption("schema_calls"))
    told = [fault for name in ORDER for fault in _call(name, place, n_calls)]
    print("\n\n".join(told))
    assert not told


def _call(name: str, place: Place, n_calls: int) -> Iterator[str]:
    """Call an operation with what it takes and with what it does not, half of the time on what
    there is; what went wrong first."""
    operation = OPERATIONS[name]
    for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
        count = 0

        def ask(case: schemathesis.Case) -> None:
            nonlocal count
            count += 1
            aimed = count % 2 == 1
            if aimed:
                _aim(case, place.ids)
            # What was put right by aiming is not wrong any more.
            checks = CHECKS[:-1] if aimed else CHECKS
            case.call_and_validate(place.address, checks=checks, timeout=MOST_SECONDS)

        run = settings(
            max_examples=n_calls, deadline=None, database=None, derandomize=False,
            suppress_health_check=list(HealthCheck), report_multiple_bugs=False,
        )  # fmt: skip
        try:
            run(seed(0)(given(operation.as_strategy(mode))(ask)))()
        except (Exception, BaseExceptionGroup) as error:  # whatever the library tells it as
            if "Unsatisfiable" not in type(error).__name__:
                yield f"{name}: {error}"


def _aim(case: schemathesis.Case, ids: dict[str, Any]) -> None:
    """At what is there, where the call is for something that is known."""
    for part in (case.path_parameters, case.query):
        for key in part if isinstance(part, dict) else ():
            if key in ids:
                part[key] = ids[key]
