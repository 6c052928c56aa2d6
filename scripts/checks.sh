# What ./test runs, once everything is set up.

# step TITLE COMMAND…: run it, say how long it took; what fails ends the shell that it is in, since
# `set -e` does not hold inside of conditions.
step() {
  local title="$1" started="$SECONDS"; shift
  say "== $title"
  "$@" || die "Failed: $title"
  say "   $((SECONDS - started)) s"
}

in_web() { (cd web && "$@"); }

check_openapi() {
  "$VENV/bin/python" -m kitesort.launch openapi | diff -u openapi.json - ||
    die "openapi.json is not what the API says. Run scripts/generate-client.sh and commit."
}

check_client() {
  in_web npx --no-install openapi-typescript ../openapi.json --check \
    -o src/api/schema.generated.ts >/dev/null 2>&1 ||
    die "The generated client is out of date. Run scripts/generate-client.sh and commit."
}

# unless_unchanged NAME PATHS COMMAND: what passed is not done again while no file that it looks at
# has changed, its own tools among them.
unless_unchanged() {
  local stamp="$VENV/.passed-$1" files found
  # Where there is no git to name the files, all is done.
  files="$(git ls-files --cached --others --exclude-standard $2 | sort -u)" || { "$3"; return; }
  found="$(printf '%s\n' "$files" | while read -r file; do
    if [ -f "$file" ]; then sha256sum "$file"; fi
  done | sha256sum)"
  if [ "$(cat "$stamp" 2>/dev/null)" = "$found" ]; then
    say "== Static checks of $1: nothing has changed since they passed"
    return
  fi
  "$3" && printf '%s' "$found" > "$stamp"
}

check_python() {
  unless_unchanged "Python" "src tests bench openapi.json *.toml requirements*.txt scripts" \
    check_python_anew
}

WEB="web tests/web openapi.json scripts"

check_web() { unless_unchanged "TypeScript" "$WEB" check_web_anew; }

check_web_types() { unless_unchanged "TypeScript-types" "$WEB" check_web_types_anew; }

check_python_anew() {
  step "Formatting (Python)" "$VENV/bin/ruff" format --check --quiet src tests bench
  step "Linting (Python)" "$VENV/bin/ruff" check --quiet src tests bench
  step "Types (Python)" "$VENV/bin/mypy" --no-error-summary
  step "Import rules (Python)" "$VENV/bin/lint-imports" --no-cache
  step "API document" check_openapi
}

check_web_anew() {
  step "Generated client" check_client
  step "Formatting (TypeScript)" in_web npm run --silent format
  step "Linting and import rules (TypeScript)" in_web npm run --silent lint
}

check_web_types_anew() { step "Types (TypeScript)" in_web npx --no-install tsc -b; }

# Two halves that take about as long.
check_python_and_types() { check_python; check_web_types; }

# in_pairs COMMAND COMMAND: both at once, each with its words together; fails when one does.
in_pairs() {
  local log failed=0; log="$(mktemp)"
  ("$2") >"$log" 2>&1 & local other=$!
  ("$1") || failed=1
  wait "$other" || failed=1
  cat "$log"; rm -f "$log"
  [ "$failed" = 0 ]
}

# Two processes, each with a database, a server, a worker and a browser of its own.
run_tests() {
  "$VENV/bin/python" -m pytest --numprocesses 2 --maxschedchunk 4 "$@"
}

# check_everything OPTION…: of pytest's. Static checks first: beside them tests would be too slow for
# their budget.
check_everything() {
  in_pairs check_python_and_types check_web
  step "Tests" run_tests "$@"
}

# Files that differ from what is committed, of some endings.
changed() {
  { git diff --name-only --diff-filter=d HEAD; git ls-files --others --exclude-standard; } |
    grep -E "$1" | sort -u || true
}

check_changed_files() {
  local python web
  python="$(changed '^(src|tests|bench)/.*\.py$')"
  web="$(changed '^web/src/.*\.tsx?$' | sed 's#^web/##')"
  if [ -n "$python" ]; then
    step "Formatting and linting (Python)" eval \
      "'$VENV/bin/ruff' format --check --quiet $python && '$VENV/bin/ruff' check --quiet $python"
    step "Types (Python)" "$VENV/bin/mypy" --no-error-summary
  fi
  if [ -n "$web" ]; then
    step "Types (TypeScript)" in_web npx --no-install tsc -b
    step "Linting (TypeScript)" in_web npx --no-install eslint --max-warnings 0 $web
  fi
}

run_quick_tests() {
  run_tests -q -m "not thorough" tests/browser/test_story.py tests/web tests/core # longest first
}

check_quickly() {
  step "What has changed" check_changed_files
  step "Core, the front end's logic, one story" run_quick_tests
}
