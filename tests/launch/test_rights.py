"""What is stored is for its owner only, and only local names lead to it."""

import os
import pwd
import re
import stat
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

import kitesort
from kitesort.api.main import create_app
from kitesort.launch import rights
from kitesort.launch.rights import as_user, close_data_folder, hand_over, lesser_user
from kitesort.store import files


@pytest.fixture
def mask() -> int:
    """As it was, whatever a test makes of it."""
    before = os.umask(0o022)
    os.umask(before)
    return before


def test_what_is_made_in_the_data_folder_is_for_its_owner_only(tmp_path: Path, mask: int) -> None:
    data = tmp_path / "new" / "data"
    (tmp_path / "new").mkdir()
    data.mkdir()
    (data / "uploads").mkdir(mode=0o755)
    try:
        close_data_folder(data)
        (data / "layers" / "map.tif").write_bytes(b"1")
    finally:
        os.umask(mask)
    others = stat.S_IRWXG | stat.S_IRWXO
    for path in (data / "uploads", data / "layers", data / "kernels", data / "layers" / "map.tif"):
        assert path.stat().st_mode & others == 0, path
    assert data.stat().st_mode & (stat.S_IRGRP | stat.S_IROTH) == 0, "not to be listed"


def test_every_folder_of_the_store_is_made_before_rights_are_given_up(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whoever the parts run as cannot make one in a data folder that is root's."""
    monkeypatch.setenv("KITESORT_DATA", str(tmp_path))
    makers = [m for name, m in vars(files).items() if name.endswith("_folder")]
    made = {maker().name for maker in makers} - {tmp_path.name}
    assert len(made) >= 4
    assert made <= set(rights.MADE_AT_ONCE)


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can give rights up")
def test_as_root_what_is_stored_goes_to_whom_the_parts_run_as(tmp_path: Path) -> None:
    nobody = pwd.getpwnam("nobody")
    (tmp_path / "layers").mkdir()
    (tmp_path / "layers" / "a.tif").write_bytes(b"1")
    hand_over(tmp_path, nobody)
    owners = {p.stat().st_uid for p in (tmp_path / "layers", tmp_path / "layers" / "a.tif")}
    assert owners == {nobody.pw_uid}
    hand_over(tmp_path, None)
    assert (tmp_path / "layers" / "a.tif").stat().st_uid == 0


def test_a_folder_that_the_parts_cannot_read_is_told(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """The user is ourselves here, so that the program is reached; the folder is not there."""
    me = pwd.getpwuid(os.geteuid())
    monkeypatch.setattr(rights, "as_user", lambda _: {})
    assert lesser_user(me, (tmp_path, tmp_path / "gone")) == me
    assert f"cannot read {tmp_path / 'gone'}" in capsys.readouterr().err
    monkeypatch.setattr(rights.sys, "executable", str(tmp_path / "no-python"))
    assert lesser_user(me, ()) is None
    assert "run as root, too" in capsys.readouterr().err
    assert lesser_user(None, ()) is None
    assert as_user(None) == {}


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("127.0.0.1:8731", 200), ("localhost", 200), ("[::1]:8731", 200), ("LOCALHOST:1", 200),
        ("example.org", 400), ("127.0.0.1.example.org", 400), ("[::1", 400), ("", 400),
    ],
)  # fmt: skip
def test_only_local_names_lead_here(store: str, host: str, status: int) -> None:
    assert store
    with TestClient(create_app(), "http://127.0.0.1") as client:
        answer = client.get("/api/health", headers={"host": host})
    assert answer.status_code == status
    if status != 200:
        assert answer.headers["content-type"] == "application/problem+json"


def test_every_folder_that_is_written_to_is_made_at_once() -> None:
    """Whoever runs the parts may not be allowed to make one in the data folder."""
    source = Path(kitesort.__file__).parent
    named = {
        name
        for part in ("store", "api", "runs", "study")
        for path in (source / part).rglob("*.py")
        for name in re.findall(r"data_folder\(\) / \"(\w+)\"", path.read_text("utf-8"))
    }
    assert named and named <= set(rights.MADE_AT_ONCE)
