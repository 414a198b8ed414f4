#!/usr/bin/env bash
# All checks in the order in which they fail fastest. Needs tools/setup.sh test before.
set -euo pipefail
cd "$(dirname "$0")/.."
unset PYTHONDONTWRITEBYTECODE || true
step() { printf '\n== %s\n' "$*"; }

step "lint and types (Python)"
.venv/bin/ruff check src tests
.venv/bin/ruff format --check src tests
.venv/bin/mypy
.venv/bin/lint-imports --no-cache | tail -n 6

step "front end: types, lint, unit tests"
(cd frontend && npm run --silent check && npm run --silent lint && npm run --silent test)

step "Python tests, MariaDB and Chromium included"
.venv/bin/python -m pytest "$@"
