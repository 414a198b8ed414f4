#!/usr/bin/env bash
# Follows docs/operating.md word by word, as root of a machine that has Debian's packages only: the steps of the page itself,
# a new user without a home, folders of its own, the unit's own restrictions. What is outside of them cannot be written; all
# of it vanishes with the trial, which has mounts of its own. Ends with a keeper who signed in by the link that was printed.
#   tools/try_service.sh [CLONE]      CLONE: where the wheel is made
set -euo pipefail
top=$(cd "$(dirname "$0")/.." && pwd)
from=${1:-$top}
unit=/etc/systemd/system/kunstflug.service
say() { printf 'service: %s\n' "$*"; }

if [ -z "${OWN_MOUNTS:-}" ]; then
  unshare --mount true 2>/dev/null || { say "not tried: this needs the right to have mounts of one's own"; exit 0; }
  place=$(mktemp -d)
  trap 'rm -rf "$place"; rmdir /var/lib/kunstflug 2>/dev/null || true' EXIT
  (cd "$from" && make --silent wheel >"$place/wheel.log" 2>&1) || { cat "$place/wheel.log"; exit 1; }
  mkdir -p /var/lib/kunstflug
  OWN_MOUNTS=$place unshare --mount --propagation private --pid --fork --mount-proc "$0" "$from"
  exit
fi

# A root of its own: /etc is a copy, the rest that is written to is empty.
place=$OWN_MOUNTS
cp -a /etc "$place/etc"
mount --bind "$place/etc" /etc
mount -t tmpfs none /opt
mount -t tmpfs none /var/lib/kunstflug
export PATH=$place/bin:/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin
mkdir -p "$place/bin" /etc/systemd/system
port=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
echo "KUNSTFLUG_PORT=$port" >/etc/kunstflug.env

# No systemd runs in here: what it would make of the unit is done by hand.
cat >"$place/bin/systemctl" <<'END'
#!/usr/bin/env bash
set -euo pipefail
[ "$*" = "enable --now kunstflug" ] || { echo "systemctl: $*" >&2; exit 1; }
unit=/etc/systemd/system/kunstflug.service
told() { sed -n "s/^$1=//p" "$unit"; }
user=$(told User)
install -d -o "$user" -g "$user" -m 755 "/var/lib/$(told StateDirectory)"
chown "$user:" "/var/lib/$(told StateDirectory)"
read -r -a set < <(told Environment)
read -r -a more < <(cat "$(told EnvironmentFile | tr -d -- -)")
read -r -a start < <(told ExecStart)
unshare --mount --propagation private bash -c '
  mount --bind / / && mount -o remount,bind,ro / && mount -t tmpfs none /tmp
  for home in /root /home; do mount -t tmpfs -o ro none $home; done  # ProtectHome
  cd / && exec setsid setpriv --reuid="$0" --regid="$0" --clear-groups --no-new-privs --bounding-set=-all env -i "$@"' \
  "$user" PATH=/usr/local/bin:/usr/bin:/bin HOME="$(getent passwd "$user" | cut -d: -f6)" "${set[@]}" "${more[@]}" "${start[@]}" \
  >"$OWN_MOUNTS/said" 2>&1 </dev/null &
END
chmod +x "$place/bin/systemctl"

cd "$from"
steps=$(sed -n '/^```sh$/,/^```$/{/^```/!p}' docs/operating.md | sed '/^dask /d')
[ "$(grep -c . <<<"$steps")" -ge 5 ] || { say "no steps in docs/operating.md"; exit 1; }
fail() { say "$*"; tail -n 30 "$place/said" /var/lib/kunstflug/demo/mariadb.log 2>/dev/null || true; exit 1; }
while read -r step; do
  if [[ $step == *"account invite"* ]]; then # when it runs: what a person would wait for
    for _ in $(seq 200); do curl -fsS -H 'host: club.example' "http://127.0.0.1:$port/api/ready" >/dev/null 2>&1 && break; sleep 0.3; done
    link=$(bash -c "$step") || fail "it does not invite:"
  else
    bash -c "$step" >"$place/step" 2>&1 || { cat "$place/step"; fail "the page's step failed: $step"; }
  fi
done <<<"$steps"
[[ ${link:-} == https://club.example/join#* ]] || fail "no link: ${link:-}"

token=$(head -n 1 <<<"$link" | sed 's/.*#//')
status=$(curl -sS -o "$place/joined" -w '%{http_code}' -H 'host: club.example' -H 'origin: http://club.example' -H 'content-type: application/json' \
  -d "{\"token\": \"$token\", \"name\": \"kim\", \"password\": \"seven quiet herons at noon\"}" "http://127.0.0.1:$port/api/account/join")
[ "$status" = 201 ] || { cat "$place/joined"; fail "the link that was printed is not one of the running server: $status"; }
speed=$(curl -fsS -H 'host: club.example' "http://127.0.0.1:$port/api/health") || fail "it does not answer"
! grep -q 'Traceback' "$place/said" || fail "a traceback:"
[ ! -e /root/.cache/kunstflug ] || fail "it wrote into a home"
say "the page's steps make a server of user kunstflug, and a keeper by the link that was printed ($speed)"
