# Two commands matter: `make demo` and `make test`. Each does its own set-up.
.PHONY: demo test dev bench lint setup types clean
unexport PYTHONDONTWRITEBYTECODE
PY := .venv/bin/python

demo: ## start everything with the demo data
	@tools/setup.sh run
	@exec .venv/bin/kunstflug demo

test: ## everything: lint, types, contracts, all tests
	@tools/setup.sh test
	@tools/test.sh

dev: ## the demo with hot reload of the front end (and of the server, when a Python file changes)
	@tools/setup.sh run
	@tools/dev.sh

bench: ## benchmarks, as ratios in one run
	@tools/setup.sh run
	@$(PY) -m tests.benchmarks.operating_points
	@$(PY) -m tests.benchmarks.tracks

lint:
	@.venv/bin/ruff format src tests
	@.venv/bin/ruff check --fix src tests
	@cd frontend && npx prettier --write . >/dev/null && npx eslint .

types: ## the API's description and what is generated from it
	@.venv/bin/kunstflug openapi > docs/openapi.json
	@.venv/bin/kunstflug schema > docs/setup.schema.json
	@cd frontend && npm run --silent types

setup:
	@tools/setup.sh test

clean: ## removes what can be made again; the demo's data in .run/demo stays
	rm -rf .venv frontend/node_modules frontend/dist .run/*.stamp
