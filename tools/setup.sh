#!/usr/bin/env bash
# Sets up what a command needs: Debian packages, Python environment, front end. Does nothing that is done already.
# A line for each step; what the tools themselves say is in .run/setup-*.log, and shown where a step fails.
# Usage: tools/setup.sh run|test, or browser for nothing but a browser without a screen
set -euo pipefail
cd "$(dirname "$0")/.."
what=${1:-run}
export PIP_DISABLE_PIP_VERSION_CHECK=1 UV_LINK_MODE=${UV_LINK_MODE:-copy}

say() { printf 'setup: %s\n' "$*"; }
stop() { printf 'setup: %s\n' "$*" >&2; exit 1; }
mkdir -p .run 2>/dev/null && touch .run/.writable 2>/dev/null ||
  stop "cannot write in $PWD: the program keeps its environment and its data there. Clone it into a folder of your own."

# installed PACKAGES...: by Debian's package manager; fails where that cannot be
installed() {
  local as=() policy=/usr/sbin/policy-rc.d
  if [ "$(id -u)" != 0 ]; then
    sudo -n true 2>/dev/null || { say "neither root nor sudo is at hand"; return 1; }
    as=(sudo -n)
  fi
  say "installing Debian packages: $*"
  # We start our own private server: keep the package from starting one.
  if [ ! -e $policy ]; then
    printf '#!/bin/sh\nexit 101\n' | "${as[@]}" tee $policy >/dev/null
    "${as[@]}" chmod +x $policy
    trap '"${as[@]}" rm -f /usr/sbin/policy-rc.d' RETURN
  fi
  "${as[@]}" apt-get update -qq -o DPkg::Lock::Timeout=120 >.run/apt.log 2>&1 &&
    DEBIAN_FRONTEND=noninteractive "${as[@]}" apt-get install -y -qq --no-install-recommends \
      -o DPkg::Lock::Timeout=120 "$@" >>.run/apt.log 2>&1
}

if [ "$what" = browser ]; then
  command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || installed chromium-headless-shell ||
    stop "the Debian package chromium-headless-shell is missing"
  exit 0
fi
need=()
command -v mariadbd >/dev/null || [ -x /usr/sbin/mariadbd ] || need+=(mariadb-server)
python3 -c 'import ensurepip, venv' 2>/dev/null || need+=(python3-venv)
if [ "$what" = test ] && ! command -v chromium-headless-shell >/dev/null; then
  # The whole browser will do where it is there already, only slower.
  if command -v chromium >/dev/null; then installed chromium-headless-shell || true; else need+=(chromium-headless-shell); fi
fi
if [ ${#need[@]} -gt 0 ]; then
  installed "${need[@]}" || stop "Debian packages are missing; please install: ${need[*]} (.run/apt.log says what went wrong)"
fi
command -v node >/dev/null || stop "Node 20 or newer is missing"
[ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || stop "Node 20 or newer is needed; this is $(node --version)"
python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || stop "Python 3.11 or newer is needed; this is $(python3 --version)"

# A stamp is good while what a step was made of is as it was when the step last succeeded.
digest() { find "$@" -type f -not -path '*/__pycache__/*' -print0 | sort -z | xargs -0 sha256sum | sha256sum; }
inputs() {
  case $1 in
    python | python-test) echo "$lock pyproject.toml tools/uv.txt" ;;
    kernels) echo "src/kunstflug/core src/kunstflug/launch/warm.py requirements.txt" ;;
    handbook) echo "docs/handbook docs/theme docs/screenshots docs/mkdocs.yml requirements.txt" ;;
    node | node-test) echo "frontend/package-lock.json frontend/package.json" ;;
    page) echo "frontend/src frontend/public frontend/index.html frontend/package-lock.json frontend/vite.config.ts" ;;
  esac
}
due() {
  # shellcheck disable=SC2046  # a list of paths without spaces
  ! { [ -f ".run/$1.stamp" ] && [ "$(cat ".run/$1.stamp")" = "$(digest $(inputs "$1"))" ]; }
}

python_environment() {
  [ -x .venv/bin/python ] || python3 -m venv .venv
  .venv/bin/python -m pip install --quiet --require-hashes -r tools/uv.txt
  .venv/bin/uv pip install --quiet --require-hashes -r "$lock"
  .venv/bin/uv pip install --quiet --no-deps --no-build-isolation -e .
}
node_packages() { (cd frontend && npm ci $omit --no-fund --no-audit --loglevel=error); }
page() { (cd frontend && npm run --silent build); }
handbook() { .venv/bin/python -m mkdocs build -q -f docs/mkdocs.yml; }
kernels() { env -u PYTHONDONTWRITEBYTECODE .venv/bin/python -m kunstflug.launch.warm; }

declare -A words=(
  [python]="Python packages" [kernels]="compiling the computation" [handbook]="the handbook's pages"
  [node]="front-end packages" [page]="building the page"
)
# step NAME STAMP COMMAND: does it where it is due; its number of all that are due, its name and its time are said.
step() {
  local name=$1 stamp=$2 begun=$SECONDS log=.run/setup-$1.log
  case " $steps " in *" $name "*) ;; *) return 0 ;; esac
  if ! (set -e; "$3") >"$log" 2>&1; then
    printf 'setup: %s failed; the end of %s:\n' "${words[$name]}" "$log" >&2
    tail -n 20 "$log" >&2
    return 1
  fi
  # shellcheck disable=SC2046
  digest $(inputs "$stamp") >".run/$stamp.stamp"
  printf x >>.run/setup-done
  say "$(wc -c <.run/setup-done | tr -d ' ') of $count: ${words[$name]} ($((SECONDS - begun)) s)"
}

# A moved folder has programs that name the old one; what is missing is made again.
[ -x .venv/bin/kunstflug ] && grep -qF "$PWD/.venv/" .venv/bin/kunstflug || rm -f .run/python.stamp .run/python-test.stamp
[ -d frontend/node_modules ] || rm -f .run/node.stamp .run/node-test.stamp
[ -f src/kunstflug/web/page/index.html ] || rm -f .run/page.stamp
[ -f src/kunstflug/web/handbook/index.html ] || rm -f .run/handbook.stamp
# An environment for tests runs, too: what testing needs is never taken out again.
lock=requirements.txt python=python node=node omit=--omit=dev
if [ "$what" = test ] || [ -f .run/python-test.stamp ]; then lock=requirements-dev.txt python=python-test; fi
if [ "$what" = test ] || [ -f .run/node-test.stamp ]; then node=node-test omit=; fi

steps=
due $python && steps+=" python"
due kernels && steps+=" kernels"
due handbook && steps+=" handbook"
due $node && steps+=" node"
due page && steps+=" page"
[ -n "$steps" ] || exit 0
count=$(wc -w <<<"$steps" | tr -d ' ')
: >.run/setup-done
say "$count steps$([ "$count" -gt 3 ] && echo ', about two minutes the first time')"
# Two lanes side by side: what needs Python, and the page.
{ step node "$node" node_packages && step page page page; } &
page_lane=$!
step python "$python" python_environment && step handbook handbook handbook && step kernels kernels kernels || { kill $page_lane 2>/dev/null; exit 1; }
wait $page_lane || exit 1
