"""Names that people give: nothing in them that is not seen (categories of the Unicode Standard)."""

import pytest
from fastapi.testclient import TestClient

from kitesort.core.errors import BadSettingsError
from kitesort.core.names import require_seen
from kitesort.core.training.scheme_file import read_scheme
from support.study import SmallStudy


@pytest.mark.parametrize(
    "name", ["Barley", "Röhricht", "草地", "می\u200cخواهم", "=1+1", "-", "Field 7/a"]
)
def test_a_name_in_any_script_stays(name: str) -> None:
    assert require_seen(f" {name}\t") == name


UNSEEN = [
    "\u200b",
    "Past\u200bure",
    "\ufeffPasture",
    "Pas\x07ture",
    "\u202eerutsap",
    " ",
    "\u200d",
    "a\u2028b",
]


@pytest.mark.parametrize("name", UNSEEN)
def test_what_cannot_be_seen_is_refused(name: str) -> None:
    with pytest.raises(ValueError, match="name"):
        require_seen(name)


@pytest.mark.parametrize("name", UNSEEN)
def test_no_class_and_no_study_has_such_a_name(
    client: TestClient, small_study: SmallStudy, name: str
) -> None:
    base = f"/api/studies/{small_study.id}"
    before = client.get(f"{base}/classes").json()
    for answer in (
        client.post(f"{base}/classes", json={"name": name}),
        client.patch(f"/api/classes/{small_study.class_ids[1]}", json={"name": name}),
        client.patch(base, json={"name": name}),
        client.post("/api/studies", json={"name": name}),
    ):
        detail = answer.json()["detail"]
        assert answer.status_code == 422 and detail.startswith("name: a name "), detail
    assert client.get(f"{base}/classes").json() == before


def test_no_file_brings_such_a_class() -> None:
    with pytest.raises(BadSettingsError, match="cannot be seen"):
        read_scheme("code,name\n1,Past\u200bure\n".encode(), "scheme.csv")
