#!/usr/bin/env bash
# Tries the first command of the README as somebody who has never seen the program: a new clone of what is committed, in a
# folder with a space in its name, an empty home, nothing of this environment. Each trial ends with a success or with the
# sentence that a person would get.
#   tools/newcomer.sh demo [FOLDER]      make demo until the page answers, a forecast comes through it and a browser shows
#                                        Match; a clone in FOLDER is left there
#   tools/newcomer.sh wheel [CLONE]      the same from a wheel in an environment of its own: pip install, kunstflug demo
#   tools/newcomer.sh user               as a user without root, whose Debian packages are there
#   tools/newcomer.sh readonly           in a checkout that cannot be written: a sentence is expected
set -euo pipefail
top=$(cd "$(dirname "$0")/.." && pwd)
trial=${1:?demo, wheel, user or readonly}
place=$(mktemp -d "${TMPDIR:-/tmp}/new comer XXXXXX")
chmod 755 "$place"
port=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
pid=
end() {
  if [ -n "$pid" ]; then
    kill -INT -- "-$pid" 2>/dev/null || true
    for _ in $(seq 100); do kill -0 -- "-$pid" 2>/dev/null || break; sleep 0.1; done
    kill -KILL -- "-$pid" 2>/dev/null || true
    pid=
  fi
  chmod -R u+w "$place" 2>/dev/null || true
  rm -rf "$place"
}
trap end EXIT
say() { printf 'newcomer, %s: %s\n' "$trial" "$*"; }
fail() { say "$*"; [ ! -f "$place/said" ] || tail -n 20 "$place/said"; exit 1; }

# An empty home and an empty environment, but for the way out to the package registries.
clean=(env -i LANG=C.UTF-8 TERM=dumb "KUNSTFLUG_PORT=$port")
for name in $(compgen -e); do
  case $name in *CERT* | *_CA_* | *_CAINFO | *proxy | *PROXY | PIP_FIND_LINKS | PIP_INDEX_URL) clean+=("$name=${!name}") ;; esac
done
# waits COMMAND...: starts it, and waits until the page, a forecast through it, and Match in a browser are there
waits() {
  local begun=$SECONDS at=http://127.0.0.1:$port
  (cd "$folder" && exec setsid "${clean[@]}" HOME="$home" PATH="$path" "$@") >"$place/said" 2>&1 </dev/null &
  pid=$!
  until curl -fsS "$at/" 2>/dev/null | grep -qi '<html'; do
    kill -0 $pid 2>/dev/null || fail "it ended after $((SECONDS - begun)) s:"
    [ $((SECONDS - begun)) -lt 1200 ] || fail "no page after $((SECONDS - begun)) s:"
    sleep 0.5
  done
  local page=$((SECONDS - begun)) speed
  speed=$(curl -fsS -H 'content-type: application/json' -H "origin: $at" --data @"$top/docs/example.setup.json" "$at/api/forecast" |
    python3 -c 'import json, sys; print("%.1f" % json.load(sys.stdin)["point"]["speed_mps"]["value"])') ||
    fail "the page is there after $page s, but it has no forecast"
  shows_match "$at" || fail "no browser shows Match"
  say "the page after $page s, $speed m/s through it, Match in a browser; lines with a warning: $(grep -ciE 'warn' "$place/said" || true)"
}
shows_match() {
  local browser setup
  browser=$(command -v chromium-headless-shell || command -v chromium) || { say "no browser on this machine"; return 1; }
  setup=$(curl -fsS "$1/api/boats" | python3 -c 'import json, sys; print(json.load(sys.stdin)["items"][0]["setup_id"])')
  for _ in 1 2 3; do
    "$browser" --headless --no-sandbox --disable-gpu --user-data-dir="$place/browser" --virtual-time-budget=20000 \
      --dump-dom "$1/setups/$setup/match" 2>/dev/null >"$place/dom" || true
    grep -q 'km/h' "$place/dom" && grep -q 'Next change' "$place/dom" && return 0
  done
  return 1
}

home=$place/home path=$PATH
mkdir "$home"
[ "$trial" = readonly ] || "$top/tools/setup.sh" browser
clone() { folder=${1:-$place/clone} && git clone -q "$top" "$folder"; }
case $trial in
  demo)
    clone "${2:-}"
    waits make demo
    ;;
  wheel)
    from=${2:-$top}
    (cd "$from" && make --silent wheel >"$place/said" 2>&1) || fail "no wheel was made:"
    folder=$home
    clean+=(HOME="$home" PATH="$path")
    "${clean[@]}" python3 -m venv "$place/environment"
    "${clean[@]}" "$place/environment/bin/pip" install --quiet "$(ls -t "$from"/dist/*.whl | head -n 1)" >"$place/said" 2>&1 || fail "pip could not install it:"
    waits "$place/environment/bin/kunstflug" demo
    ;;
  user)
    /usr/bin/python3 -c 'import ensurepip, venv' 2>/dev/null || apt-get install -y -qq python3-venv >/dev/null
    # its own Python: that of whoever runs this may lie in a home that nobody else can read
    path=/usr/local/bin:/usr/bin:/bin
    clone
    chown -R nobody: "$place"
    waits setpriv --reuid=nobody --regid=nogroup --clear-groups make demo
    ;;
  readonly)
    path=/usr/local/bin:/usr/bin:/bin
    clone
    chmod -R a-w "$place/clone"
    chown nobody: "$home"
    if (cd "$place/clone" && "${clean[@]}" HOME="$home" PATH="$path" setpriv --reuid=nobody --regid=nogroup --clear-groups make demo) >"$place/said" 2>&1; then
      fail "it ran in a folder that cannot be written:"
    fi
    grep -q 'cannot write in .*Clone it' "$place/said" || fail "no sentence that helps:"
    say "$(grep -o 'cannot write in.*' "$place/said" | sed "s#$place#...#")"
    ;;
  *) echo "newcomer: demo, wheel, user or readonly" >&2; exit 2 ;;
esac
