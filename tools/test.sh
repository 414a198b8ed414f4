#!/usr/bin/env bash
# All checks, with the time each part took. Needs tools/setup.sh test before.
# With words behind it, it hands them to pytest.
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
  grep -E '^TOTAL|passed in' "$log/part" || true
  took+=("$(printf '%4d s  %s' $((SECONDS - start)) "$name")")
}

# beside COMMAND...: commands side by side, each a lane of its own; the first that fails ends the others
beside() {
  local lanes=() failed=0 k
  set -m
  for k in $(seq $#); do
    (eval "${!k}") >"$log/lane$k" 2>&1 &
    lanes+=($!)
  done
  for k in $(seq $#); do
    if ! wait -n "${lanes[@]}"; then
      failed=1
      for k in "${lanes[@]}"; do kill -- "-$k" 2>/dev/null || true; done
      break
    fi
  done
  wait || true
  set +m
  for k in $(seq $#); do cat "$log/lane$k"; done
  return $failed
}

py=".venv/bin/python -m pytest"
lint=".venv/bin/ruff check src tests && .venv/bin/ruff format --check src tests && .venv/bin/mypy && .venv/bin/lint-imports --no-cache"
front="cd frontend && npm run --silent check && npm run --silent lint && npm run --silent test"
# Compiled kernels run as they are and are not counted.
covered="--cov=kunstflug.core --cov=kunstflug.wording --cov=kunstflug.documents --cov=kunstflug.files --cov-report=term:skip-covered"
core="$py $covered src/kunstflug/core tests/core tests/wording tests/documents tests/files tests/pond"
# Lanes of about the same length on two cores: the whole program and the browser mostly wait for their own processes.
part "lint, types, contracts and front end, then fitting in the browser; core, then use cases and fuzz; browser, then API and database; the whole program" \
  beside "($lint) && ($front) && echo lint, types and front end passed in \$SECONDS s && $py tests/browser/test_bench.py tests/browser/test_logging.py" \
  "$core && $py tests/services tests/fuzz" "$py tests/browser/test_interface.py tests/browser/test_size.py && $py tests/web tests/store" "$py tests/launch"
printf '\n== all of it, in %d s\n' "$SECONDS"
printf '%s\n' "${took[@]}"
