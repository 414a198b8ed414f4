#!/usr/bin/env bash
# Sets up what a command needs: Debian packages, Python environment, front end. Does nothing that is done already.
# Usage: tools/setup.sh run|test
set -euo pipefail
cd "$(dirname "$0")/.."
what=${1:-run}
mkdir -p .run

say() { printf 'setup: %s\n' "$*"; }
stop() { printf 'setup: %s\n' "$*" >&2; exit 1; }

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

# once STAMP INPUTS... -- COMMAND...: runs the command unless the inputs are as they were when it last succeeded
once() {
  local stamp=.run/$1.stamp now inputs=()
  shift
  while [ "$1" != -- ]; do inputs+=("$1"); shift; done
  shift
  now=$(find "${inputs[@]}" -type f -not -path '*/__pycache__/*' -print0 | sort -z | xargs -0 sha256sum | sha256sum)
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$now" ] && return 0
  "$@"
  printf '%s' "$now" >"$stamp"
}

python_environment() {
  say "Python environment"
  [ -x .venv/bin/python ] || python3 -m venv .venv
  .venv/bin/python -m pip install --quiet --disable-pip-version-check "uv==$(sed -n 's/^uv==//p' tools/uv-version.txt)"
  .venv/bin/uv pip install --quiet --require-hashes -r "$1"
  .venv/bin/uv pip install --quiet --no-deps --no-build-isolation -e .
}
node_packages() {
  say "front-end packages"
  (cd frontend && npm ci --no-fund --no-audit --loglevel=error)
}
front_end() {
  say "building the front end"
  (cd frontend && npm run --silent build)
}

handbook() {
  say "building the handbook"
  .venv/bin/python -m mkdocs build -q -f docs/mkdocs.yml
}

kernels() {
  say "compiling the kernels"
  env -u PYTHONDONTWRITEBYTECODE .venv/bin/python -m kunstflug.launch.warm
}

[ -x .venv/bin/kunstflug ] || rm -f .run/python.stamp .run/python-test.stamp
[ -d frontend/node_modules ] || rm -f .run/node.stamp
[ -f src/kunstflug/web/page/index.html ] || rm -f .run/front.stamp
[ -f src/kunstflug/web/handbook/index.html ] || rm -f .run/handbook.stamp
# A tested environment runs, too: what testing needs is never taken out again.
wanted=requirements.txt
if [ "$what" = test ] || [ -f .run/python-test.stamp ]; then wanted=requirements-dev.txt; fi
[ "$wanted" = requirements-dev.txt ] && stamp=python-test || stamp=python
once $stamp $wanted pyproject.toml tools/uv-version.txt -- python_environment $wanted
once kernels src/kunstflug/core requirements.txt -- kernels
once handbook docs/handbook docs/theme docs/screenshots docs/mkdocs.yml requirements.txt -- handbook
once node frontend/package-lock.json -- node_packages
once front frontend/src frontend/public frontend/index.html frontend/package-lock.json frontend/vite.config.ts -- front_end
