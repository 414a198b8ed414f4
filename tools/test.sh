#!/usr/bin/env bash
# All checks, with the time each part took. Needs tools/setup.sh test before.
# What fails fastest comes first; every part uses two cores. With words behind it, it hands them to pytest.
set -euo pipefail
cd "$(dirname "$0")/.."
unset PYTHONDONTWRITEBYTECODE || true
if [ $# -gt 0 ]; then exec .venv/bin/python -m pytest "$@"; fi
log=$(mktemp -d)
trap 'rm -rf "$log"' EXIT
took=()

# part NAME COMMAND...: keeps its time, and shows what it said where it fails
part() {
  local name=$1 start=$SECONDS
  shift
  printf '== %s\n' "$name"
  if ! "$@" >"$log/part" 2>&1; then
    cat "$log/part"
    printf '== %s FAILED after %d s\n' "$name" $((SECONDS - start))
    exit 1
  fi
  grep -E '^TOTAL|passed' "$log/part" | tail -n 3 || true
  took+=("$(printf '%4d s  %s' $((SECONDS - start)) "$name")")
}

# both ONE OTHER: two commands side by side; fails where either does
both() {
  local one=0 other=0
  (eval "$1") >"$log/one" 2>&1 & local first=$!
  (eval "$2") >"$log/other" 2>&1 || other=$?
  wait $first || one=$?
  cat "$log/one" "$log/other"
  [ $one = 0 ] && [ $other = 0 ]
}

py=".venv/bin/python -m pytest"
lint=".venv/bin/ruff check src tests && .venv/bin/ruff format --check src tests && .venv/bin/mypy && .venv/bin/lint-imports --no-cache"
front="cd frontend && npm run --silent check && npm run --silent lint && npm run --silent test"
# Compiled kernels run as they are and are not counted.
covered="--cov=kunstflug.core --cov=kunstflug.wording --cov=kunstflug.documents --cov=kunstflug.files --cov-report=term:skip-covered"

part "lint, types, import contracts; front end: types, lint, unit tests" both "$lint" "$front"
part "core, words, documents, files, pond; with coverage" \
  $py -n 2 --dist worksteal $covered src/kunstflug/core tests/core tests/wording tests/documents tests/files tests/pond
part "use cases, database, API" $py -n 2 --dist loadfile tests/services tests/store tests/web
part "the whole program and fuzz; the browser" both "$py --durations=5 tests/launch tests/fuzz" "$py --durations=5 tests/browser"
printf '\n== all of it, in %d s\n' "$SECONDS"
printf '%s\n' "${took[@]}"
