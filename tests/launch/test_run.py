"""./run's own part: start, start again, recover from a crash, stop cleanly."""

import socket
from pathlib import Path

import pytest

from kitesort.launch.__main__ import main
from support.running import Running

pytestmark = pytest.mark.slow("starts the whole program, database and all, up to three times")


def test_a_port_that_is_taken_is_told(run_folder: Path) -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        running = Running(run_folder, "--port", str(other.getsockname()[1]))
        assert running.process.wait(30) == 1
    assert "is taken by another program" in running.output


@pytest.mark.parametrize("host", ["0.0.0.0", "192.168.1.5", "example.org", "::"])
def test_any_address_but_loopback_is_refused_with_a_reason(
    capsys: pytest.CaptureFixture[str], host: str
) -> None:
    assert main(["run", "--host", host]) == 1
    assert "no sign-in yet" in capsys.readouterr().err
