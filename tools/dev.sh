#!/usr/bin/env bash
# The demo's server, restarted when a Python file changes, and Vite's server with hot reload in front of it.
set -euo pipefail
cd "$(dirname "$0")/.."
trap 'kill 0' EXIT INT TERM
.venv/bin/watchfiles --filter python '.venv/bin/kunstflug demo --front-dev' src &
cd frontend && npx vite --host 127.0.0.1 --port 5173 --strictPort
