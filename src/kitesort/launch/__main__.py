"""``python -m kitesort.launch [run|worker|server|warm|openapi]``."""

import argparse
import ipaddress
import json
import logging
import os
import sys
from pathlib import Path

from kitesort.launch.orphan import end_with_starter
from kitesort.launch.postgres import LaunchError
from kitesort.launch.supervisor import Options, Supervisor

DEFAULT_PORT = 8731


def main(arguments: list[str] | None = None) -> int:
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(name)s: %(message)s")
    options = _parser().parse_args(arguments)
    try:
        return int(PARTS[options.part](options))
    except LaunchError as error:
        print(error, file=sys.stderr)
        return 1


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="./run", description="Start Kite Sort on this machine.")
    parser.add_argument("part", nargs="?", default="run", choices=list(PARTS),
                        help=argparse.SUPPRESS)  # fmt: skip
    parser.add_argument("--port", type=int, default=DEFAULT_PORT, help="port of the web page")
    parser.add_argument("--host", default="127.0.0.1", help="loopback address to listen on")
    parser.add_argument("--data", type=Path, default=Path(os.environ.get("KITESORT_DATA", "data")),
                        help="folder for the database, uploads and kept layers")  # fmt: skip
    parser.add_argument("--no-demo", action="store_true", help="do not make the demo study")
    return parser


def _run(options: argparse.Namespace) -> int:
    _require_loopback(options.host)
    chosen = Options(options.host, options.port, options.data, not options.no_demo)
    return Supervisor(chosen).run()


def _require_loopback(host: str) -> None:
    try:
        loopback = host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        loopback = False
    if not loopback:
        raise LaunchError(
            f"Kite Sort does not listen on {host}: there is no sign-in yet, so that anyone who "
            "reaches the address could change your studies. Use 127.0.0.1."
        )


def _worker(_: argparse.Namespace) -> int:
    from kitesort.runs.worker import run_worker
    from kitesort.store.database import dsn

    end_with_starter()
    run_worker(dsn())
    return 0


def _server(options: argparse.Namespace) -> int:
    import uvicorn

    from kitesort.api.main import create_app

    end_with_starter()
    uvicorn.run(
        create_app(), host=options.host, port=options.port, log_level="warning",
        timeout_graceful_shutdown=2,
    )  # fmt: skip
    return 0


def _warm(_: argparse.Namespace) -> int:
    """Compile the kernels into their cache, so that nobody's first click waits for it."""
    from kitesort.core.classify import registry

    return 0 if registry.CLASSIFIERS else 1


def _openapi(_: argparse.Namespace) -> int:
    from kitesort.api.main import create_app

    print(json.dumps(create_app().openapi(), indent=1, ensure_ascii=False))
    return 0


PARTS = {"run": _run, "worker": _worker, "server": _server, "warm": _warm, "openapi": _openapi}

if __name__ == "__main__":
    sys.exit(main())
