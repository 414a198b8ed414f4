#!/usr/bin/env bash
# Tries an upgrade and the way back, with the program of an earlier commit and this one, on data of its own:
#   tools/try_upgrade.sh COMMIT
# The earlier program makes a boat and a backup; this one starts on the same folder, has the boat and makes another; the
# earlier one then refuses the newer tables, restores its backup and has its boat. Both use this environment's packages.
set -euo pipefail
cd "$(dirname "$0")/.."
commit=${1:?which commit is the earlier program?}
here=$PWD
work=$(mktemp -d)
export KUNSTFLUG_RUN=$work/data KUNSTFLUG_PORT=${KUNSTFLUG_PORT:-8531} KUNSTFLUG_WORKERS=2
at=http://127.0.0.1:$KUNSTFLUG_PORT
pid=
end() {
  [ -z "$pid" ] || kill "$pid" 2>/dev/null || true
  git worktree remove --force "$work/old" 2>/dev/null || true
  rm -rf "$work"
}
trap end EXIT

git worktree add --quiet --detach "$work/old" "$commit"
# The earlier program answers the API; it needs no page for that.
program() { (cd "$work" && PYTHONPATH="$1/src" exec "$here/.venv/bin/python" -c "from kunstflug.cli import main; main()" "${@:2}"); }
begin() {
  program "$1" serve >"$work/said" 2>&1 &
  pid=$!
  for _ in $(seq 120); do
    curl --silent --fail "$at/api/health" >/dev/null && return 0
    kill -0 "$pid" 2>/dev/null || { pid=; return 1; }
    sleep 0.5
  done
  return 1
}
stop() {
  pkill -INT -P "$pid" || kill -INT "$pid"
  wait "$pid" || true
  pid=
}
names() { curl --silent --fail "$at/api/boats" | "$here/.venv/bin/python" -c 'import json, sys; print(*sorted(b["name"] for b in json.load(sys.stdin)["items"]))'; }
boat() {
  "$here/.venv/bin/python" -c 'import json, sys; print(json.dumps({"name": sys.argv[2], "document": json.load(open(sys.argv[1]))}))' \
    "$here/docs/example.setup.json" "$1" |
    curl --silent --fail --output /dev/null -H 'content-type: application/json' -H "origin: $at" --data @- "$at/api/boats"
}
is() { [ "$1" = "$2" ] || { printf 'expected "%s", found "%s"\n' "$2" "$1"; cat "$work/said"; exit 1; }; }

begin "$work/old"
boat Before
is "$(names)" "Before"
program "$work/old" backup "$work/before.zip"
stop
echo "earlier program: one boat, one backup"

begin "$here"
is "$(names)" "Before"
boat After
is "$(names)" "After Before"
stop
echo "this program: tables brought up to date, the boat is there, another was made"

if begin "$work/old"; then
  echo "the earlier program started on newer tables"
  exit 1
fi
tail -n 1 "$work/said"
program "$work/old" restore "$work/before.zip"
begin "$work/old"
is "$(names)" "Before"
stop
echo "earlier program again: it refused the newer tables, restored its backup, and has its boat"
