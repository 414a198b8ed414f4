#!/usr/bin/env bash
# The checks, with the time each part took; with KUNSTFLUG_ALL=1 the long ones, too. Needs tools/setup.sh test before.
# With words behind it, it hands them to pytest.
set -euo pipefail
cd "$(dirname "$0")/.."
unset PYTHONDONTWRITEBYTECODE || true
if [ $# -gt 0 ]; then exec .venv/bin/python -m pytest "$@"; fi
log=$(mktemp -d)
trap 'rm -rf "$log"' EXIT

py=".venv/bin/python -m pytest"
[ "${KUNSTFLUG_ALL:-}" = 1 ] || py+=" -m 'not long'"
# Compiled kernels run as they are and are not counted, see pyproject.toml.
covered="--cov=kunstflug.core --cov=kunstflug.wording --cov=kunstflug.documents --cov=kunstflug.files --cov-report=term:skip-covered"
# Two at a time, the longest first: with three, each loses more to the others than it gains (two cores, the usual ones:
# 356 s and 552 s of computing with three, 319 s and 454 s with two). One start of a part costs six to fifteen seconds.
parts="core=$py $covered src/kunstflug/core tests/core tests/wording tests/documents tests/files tests/pond
use cases=$py tests/services tests/fuzz
API and database=$py tests/web tests/store
browser=$py tests/browser/test_interface.py tests/browser/test_size.py tests/browser/test_first_hour.py tests/browser/test_trim.py
browser at pond and bench=$py tests/browser/test_launch.py tests/browser/test_pond_day.py tests/browser/test_club.py tests/browser/test_bench.py tests/browser/test_logging.py
whole program=$py tests/launch
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

printf '%s\n' "$parts" | xargs -d '\n' -P 2 -I{} bash -c 'one "$1"' one {} || exit 1
cat "$log"/* | grep -E '^TOTAL|passed.* in ' || true
left=$(cat "$log"/* | sed -nE 's/.* ([0-9]+) deselected.*/\1/p' | awk '{n += $1} END {print n + 0}')
[ "$left" = 0 ] || printf '%d long ones are left to make test-all\n' "$left"
printf '\n== everything%s passed in %d s; each part, beside the others:\n' "$([ "$left" = 0 ] || echo ' else')" "$SECONDS"
sort -rn "$log/took"
