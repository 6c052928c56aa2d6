#!/usr/bin/env bash
# Write openapi.json from the API, and the front end's types from it.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")/.."
source scripts/setup.sh
setup_python requirements-dev.txt
"$VENV/bin/python" -m kitesort.launch openapi > openapi.json
cd web && npm run --silent generate
