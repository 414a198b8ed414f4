#!/usr/bin/env bash
# All checks, with the time each part took. Needs tools/setup.sh test before.
# With words behind it, it hands them to pytest.
set -euo pipefail
cd "$(dirname "$0")/.."
unset PYTHONDONTWRITEBYTECODE || true
if [ $# -gt 0 ]; then exec .venv/bin/python -m pytest "$@"; fi
log=$(mktemp -d)
trap 'rm -rf "$log"' EXIT

py=".venv/bin/python -m pytest"
# Compiled kernels run as they are and are not counted, see pyproject.toml.
covered="--cov=kunstflug.core --cov=kunstflug.wording --cov=kunstflug.documents --cov=kunstflug.files --cov-report=term:skip-covered"
# Longest first, three at a time: browser and whole program wait a good deal for their processes. With four at a time
# each loses more to the others than it gains (two cores, the whole: 777 s with four, 577 s with three).
parts="browser=$py tests/browser/test_interface.py tests/browser/test_size.py
browser at the pond=$py tests/browser/test_launch.py tests/browser/test_pond_day.py tests/browser/test_club.py
whole program=$py tests/launch
core=$py $covered src/kunstflug/core tests/core tests/wording tests/documents tests/files tests/pond
browser at the bench=$py tests/browser/test_first_hour.py tests/browser/test_bench.py tests/browser/test_logging.py tests/browser/test_trim.py
use cases=$py tests/services tests/fuzz
API and database=$py tests/web tests/store
front end=cd frontend && npm run --silent check && npm run --silent lint && npm run --silent test
lint, types, contracts=.venv/bin/ruff check src tests && .venv/bin/ruff format --check src tests && .venv/bin/mypy && .venv/bin/lint-imports --no-cache"

# one 'NAME=COMMAND': keeps what it said and its time; the first that fails ends the others
one() {
  local name=${1%%=*} start=$SECONDS TIMEFORMAT='%U %S'
  if { time bash -c "${1#*=}" >"$log/$name" 2>&1; } 2>"$log/.cpu $name"; then
    printf '%4d s  %s (computing: %.0f s)\n' $((SECONDS - start)) "$name" "$(awk '{print $1 + $2}' "$log/.cpu $name")" | tee -a "$log/took"
  else
    cat "$log/$name"
    printf '== %s FAILED after %d s\n' "$name" $((SECONDS - start))
    return 255
  fi
}
export -f one
export log

printf '%s\n' "$parts" | xargs -d '\n' -P 3 -I{} bash -c 'one "$1"' one {} || exit 1
cat "$log"/* | grep -E '^TOTAL|passed in' || true
printf '\n== everything passed in %d s; each part, beside the others:\n' "$SECONDS"
sort -rn "$log/took"
