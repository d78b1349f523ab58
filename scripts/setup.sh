# Sourced by ./start and ./test: brings a fresh Debian 12 machine to where Bustle runs. Every step is skipped
# when its inputs have not changed.

say() { printf '%s\n' "$*" >&2; }
fail() { say "${0##*/}: $*"; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo "$@"; else
    fail "installing $* needs root, and sudo is not there; install it by hand and start again."
  fi
}

install_packages() {
  command -v apt-get >/dev/null || fail "$* is missing and apt-get is not there; install it by hand and start again."
  say "Installing $* …"
  as_root env DEBIAN_FRONTEND=noninteractive apt-get update -qq >/dev/null || say "(the package lists could not be refreshed)"
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null \
    || fail "$* could not be installed; what apt-get said is above."
}

stamp_of() { cat "$@" 2>/dev/null | sha256sum | cut -d' ' -f1; }
same_stamp() { [ -f "$1" ] && [ "$(cat "$1")" = "$2" ]; }

check_folder() {
  mkdir -p .bustle 2>/dev/null && touch .bustle/.written 2>/dev/null \
    || fail "this folder cannot be written; Bustle keeps its database and its set-up here."
}

check_tools() {
  command -v python3 >/dev/null || fail "Python 3.11 or newer is missing; install Debian's package python3."
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || fail "Python 3.11 or newer is needed, and python3 is older."
  command -v node >/dev/null || fail "Node 20 or newer is missing; install it and start again."
  local node; node=$(node -p 'parseInt(process.versions.node)') || fail "node is there and does not run; what it said is above."
  [ "$node" -ge 20 ] || fail "Node 20 or newer is needed, and node is older."
  command -v npm >/dev/null || fail "npm is missing; it comes with Node 20."
}

have_postgresql() { ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1; }

setup_database() { have_postgresql || install_packages postgresql; }

install_python() {
  .venv/bin/python -m pip install --quiet --disable-pip-version-check -r requirements.lock 2> .bustle/pip.log \
    && .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e . 2>> .bustle/pip.log \
    && .venv/bin/python -c 'import bustle.web.server' 2>> .bustle/pip.log
}

setup_python() {
  local stamp; stamp=$(stamp_of requirements.lock pyproject.toml; python3 -V)
  same_stamp .venv/.stamp "$stamp" && return
  python3 -c 'import ensurepip' 2>/dev/null || install_packages python3-venv
  say "Setting up Python …"
  # An interruption may have left half of one.
  .venv/bin/python -m pip --version >/dev/null 2>&1 || { rm -rf .venv; python3 -m venv .venv; } || fail "the virtual environment could not be made."
  rm -f .venv/.stamp
  # What an interruption left half unpacked may stand in the way: then once more from the beginning.
  install_python || { rm -rf .venv; python3 -m venv .venv && install_python; } \
    || { tail -n 3 .bustle/pip.log >&2; fail "the Python packages could not be installed."; }
  printf '%s' "$stamp" > .venv/.stamp
}

# What is stepped through number by number is compiled, which takes a minute: nobody waits for it later.
setup_compiled() {
  local sources stamp
  mapfile -t sources < <(grep -rl "@compiled" bustle/core --include=*.py | LC_ALL=C sort)
  stamp=$(stamp_of requirements.lock "${sources[@]}"; python3 -V; uname -m)
  same_stamp .venv/.compiled-stamp "$stamp" && return
  # What was kept of other versions goes.
  rm -rf bustle/core/geometry/__pycache__ || true
  .venv/bin/python -m bustle.web.workers >/dev/null 2>.bustle/compiled.log || return 0
  .venv/bin/python -m bustle.cli dry-run demo/fennel.bustle.json --motion Forward >/dev/null 2>>.bustle/compiled.log || return 0
  printf '%s' "$stamp" > .venv/.compiled-stamp
}

# What only the tests need: an independent rigid-body library to check against.
setup_test_python() {
  local stamp; stamp=$(stamp_of requirements.lock requirements.test.lock; python3 -V)
  same_stamp .venv/.test-stamp "$stamp" && return
  say "Setting up what the tests check against …"
  .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps -r requirements.test.lock 2> .bustle/pip.log \
    || { tail -n 3 .bustle/pip.log >&2; fail "the packages for the tests could not be installed."; }
  printf '%s' "$stamp" > .venv/.test-stamp
}

setup_interface() {
  local stamp; stamp=$(stamp_of ui/package.json ui/package-lock.json)
  if ! same_stamp ui/node_modules/.stamp "$stamp"; then
    say "Setting up the interface …"
    (cd ui && npm ci --no-audit --no-fund) >.bustle/npm.log 2>&1 \
      || { grep -m 3 'npm error' .bustle/npm.log >&2; fail "the interface's packages could not be installed."; }
    printf '%s' "$stamp" > ui/node_modules/.stamp
  fi
  stamp=$(cd ui && find src public index.html vite.config.ts tsconfig.json package-lock.json ../bustle/web/openapi.json -type f ! -name schema.d.ts 2>/dev/null | LC_ALL=C sort | xargs -d '\n' sha256sum | sha256sum | cut -d' ' -f1)
  if ! same_stamp ui/dist/.stamp "$stamp"; then
    say "Building the interface …"
    (cd ui && npm run --silent build) >.bustle/build.log 2>&1 || { tail -n 20 .bustle/build.log >&2; fail "the interface could not be built."; }
    printf '%s' "$stamp" > ui/dist/.stamp
  fi
}

# One set-up at a time in one folder: another waits for it and then finds it done.
wait_for_other_setups() {
  command -v flock >/dev/null || return 0
  exec 9> .bustle/setup.lock
  flock -n 9 || { say "Another start is setting up here; waiting for it …"; flock 9; }
}

setup_all() {
  check_folder
  wait_for_other_setups
  check_tools
  setup_database
  setup_python
  # Beside the next, and without the lock, which an interruption would leave with it.
  setup_compiled 9>&- &
  local compiled=$!
  setup_interface
  wait "$compiled"
  { exec 9>&-; } 2>/dev/null || true
}
