#!/usr/bin/env bash
# All checks, with the time each part took. Needs tools/setup.sh test before.
# What fails fastest comes first. The two halves of the Python tests run side by side, one for each core: what has the
# program, a browser or a fuzzer in it, and the rest, whose coverage is measured.
set -euo pipefail
cd "$(dirname "$0")/.."
unset PYTHONDONTWRITEBYTECODE || true
log=$(mktemp -d)
trap 'rm -rf "$log"; kill $(jobs -p) 2>/dev/null || true' EXIT
took=()

# part NAME COMMAND...: runs it quietly, shows what it said where it fails, keeps its time
part() {
  local name=$1 start=$SECONDS
  shift
  printf '== %s\n' "$name"
  if ! "$@" >"$log/part" 2>&1; then
    cat "$log/part"
    printf '== %s FAILED after %d s\n' "$name" $((SECONDS - start))
    exit 1
  fi
  took+=("$(printf '%4d s  %s' $((SECONDS - start)) "$name")")
}

lint_python() { .venv/bin/ruff check src tests && .venv/bin/ruff format --check src tests; }
types_python() { .venv/bin/mypy && .venv/bin/lint-imports --no-cache; }
front() { (cd frontend && npm run --silent check && npm run --silent lint && npm run --silent test); }
whole="tests/browser tests/launch tests/fuzz"

if [ $# -gt 0 ]; then exec .venv/bin/python -m pytest "$@"; fi
part "Python: lint" lint_python
part "Python: types, import contracts" types_python
part "front end: types, lint, unit tests" front

start=$SECONDS
printf '== Python tests: the whole program, the browser, fuzz; and beside them the rest, with coverage\n'
(.venv/bin/python -m pytest --durations=8 $whole >"$log/whole" 2>&1; echo $? >"$log/whole.rc"; echo $SECONDS >"$log/whole.end") &
# Compiled kernels run as they are and are not counted.
rest=0
.venv/bin/python -m pytest --durations=8 --cov --cov-report=term:skip-covered $(printf -- '--ignore=%s ' $whole) \
  >"$log/rest" 2>&1 || rest=$?
took+=("$(printf '%4d s  core, documents, services, store, API' $((SECONDS - start)))")
wait
took+=("$(printf '%4d s  whole program, browser, fuzz' $(($(cat "$log/whole.end") - start)))")
grep -vE '^src/.*%$' "$log/rest" | tail -n 60
[ "$(cat "$log/whole.rc")" = 0 ] && tail -n 14 "$log/whole" || cat "$log/whole"
printf '\n== all of it, in %d s\n' "$SECONDS"
printf '%s\n' "${took[@]}"
[ $rest = 0 ] && [ "$(cat "$log/whole.rc")" = 0 ]
