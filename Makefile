# Two commands matter: `make demo` and `make test`. Each does its own set-up.
.PHONY: hooks wheel mutations demo test test-all test-slow torture dev bench pictures lint setup types clean
unexport PYTHONDONTWRITEBYTECODE
PY := .venv/bin/python

demo: ## start everything with the demo data
	@tools/setup.sh run
	@exec .venv/bin/kunstflug demo

test: ## lint, types, contracts, tests: all but the longest
	@tools/setup.sh test
	@tools/test.sh

test-all: ## the longest, too: what runs on a fresh clone before anything is called done
	@tools/setup.sh test
	@KUNSTFLUG_ALL=1 tools/test.sh

dev: ## the demo with hot reload of the front end (and of the server, when a Python file changes)
	@tools/setup.sh run
	@tools/dev.sh

bench: ## benchmarks, as ratios in one run
	@tools/setup.sh run
	@$(PY) -m tests.benchmarks.operating_points
	@$(PY) -m tests.benchmarks.tracks
	@$(PY) -m tests.benchmarks.learning 40
	@$(PY) -m tests.benchmarks.trim 40

test-slow: ## ten times as many fuzzed requests and files
	@tools/setup.sh test
	@KUNSTFLUG_SLOW=1 $(PY) -m pytest tests/fuzz tests/core tests/store tests/services

torture: ## kills at random moments; ten thousand runs and a hundred clients
	@tools/setup.sh run
	@$(PY) -m tests.benchmarks.kills 50
	@$(PY) -m tests.benchmarks.growth 300

pictures: ## the pictures of the docs, from the demo
	@tools/setup.sh test
	@$(PY) -m tests.pictures

lint:
	@.venv/bin/ruff format src tests
	@.venv/bin/ruff check --fix src tests
	@cd frontend && npx prettier --write . >/dev/null && npx eslint .

types: ## the API's description and what is generated from it
	@.venv/bin/kunstflug openapi > docs/openapi.json
	@.venv/bin/kunstflug schema > docs/setup.schema.json
	@.venv/bin/kunstflug boat schema > docs/boat.schema.json
	@.venv/bin/kunstflug units > frontend/src/lib/units/table.json
	@cd frontend && npx prettier --write --log-level=warn src/lib/units/table.json && npm run --silent types

hooks: ## the checks before every commit
	@tools/setup.sh test
	@.venv/bin/pre-commit install

wheel: ## a wheel that carries the built front end
	@tools/setup.sh test
	@.venv/bin/python -m build --wheel --no-isolation --outdir dist

setup:
	@tools/setup.sh test

clean: ## removes what can be made again; the demo's data in .run/demo stays
	rm -rf .venv frontend/node_modules src/kunstflug/web/page dist build .run/*.stamp

mutations: ## breaks every room in places, on a copy, and asks whether a test notices
	@tools/setup.sh test
	@$(PY) -m tests.mutations
