# Two commands matter: `make demo` and `make test`. Both set up what they need first.
SHELL := /bin/bash
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
APP := src/tinknot/web/static/app
export PATH := $(CURDIR)/$(BIN):$(PATH)
export PYTHONPYCACHEPREFIX := $(CURDIR)/build/pycache
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo test nightly quick check bench screenshots clean types

demo: $(APP)/index.html
	tinknot demo

test: check .make/chromium
	python -m pytest
	cd frontend && pnpm test

# All of it: every kept plan and generated case, full fuzzing, kills and power loss. CI runs this.
nightly: export NIGHTLY := true
nightly: test

# The loop while working, under a minute: no browser, no page, no fuzzing, a part of the generated cases.
quick: .make/python .make/node
	ruff check .
	python -m pytest tests src/tinknot/core --ignore tests/e2e --ignore tests/trust --ignore tests/golden --ignore tests/web/test_fuzz.py
	cd frontend && pnpm exec vitest run src/model src/api

check: $(APP)/index.html
	ruff check .
	ruff format --check .
	mypy
	lint-imports
	cd frontend && pnpm check

bench: $(APP)/index.html
	python -m bench

screenshots: $(APP)/index.html .make/chromium
	python tools/screenshots.py

# --- set-up ------------------------------------------------------------------------------------

.make/python: requirements.txt requirements-dev.txt pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --require-hashes -r requirements-dev.txt
	$(BIN)/python -m pip install --quiet --no-deps -e .
	mkdir -p .make && touch $@

.make/node: frontend/package.json frontend/pnpm-lock.yaml
	command -v pnpm >/dev/null || npm install --global --silent pnpm@12.21.0
	cd frontend && pnpm install --frozen-lockfile --silent
	mkdir -p .make && touch $@

.make/chromium:
	command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq chromium)
	mkdir -p .make && touch $@

build/openapi.json: .make/python $(shell find src/tinknot -name '*.py' 2>/dev/null)
	mkdir -p build && tinknot openapi > $@

frontend/src/api/schema.d.ts: build/openapi.json .make/node
	cd frontend && pnpm --silent types > /dev/null

types: frontend/src/api/schema.d.ts

$(APP)/index.html: frontend/src/api/schema.d.ts frontend/index.html frontend/vite.config.ts $(shell find frontend/src frontend/public -type f ! -name schema.d.ts 2>/dev/null)
	cd frontend && pnpm --silent build
	touch $@

clean:
	rm -rf $(VENV) .make build frontend/node_modules $(APP) frontend/src/api/schema.d.ts
