# Everything Wertome needs is set up by these targets; `make help` lists them.
SHELL := /bin/bash
# What does not wait for one another is set up at once.
MAKEFLAGS += --jobs=2
.DEFAULT_GOAL := help
PYTHON ?= python3
BIN := .venv/bin
STAMPS := .stamps
WEB_SOURCES := $(shell find web/src web/index.html web/vite.config.ts web/tsconfig.json 2>/dev/null)

.PHONY: help setup demo test check bench drills types screenshots chromium wheel

help: ## list the targets
	@grep -E '^[a-z]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

$(STAMPS)/venv:
	$(PYTHON) -m venv .venv
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/app: $(STAMPS)/venv requirements/app.txt
	$(BIN)/pip install --quiet --no-deps -r requirements/app.txt
	@touch $@

# Compiled once, beside the sources, while other things are set up.
$(STAMPS)/warm: $(STAMPS)/app
	$(BIN)/python -m cutcore.steps.warm
	@touch $@

$(STAMPS)/dev: $(STAMPS)/app requirements/dev.txt
	$(BIN)/pip install --quiet --no-deps -r requirements/dev.txt
	@touch $@

$(STAMPS)/bench: $(STAMPS)/app requirements/bench.txt
	$(BIN)/pip install --quiet --no-deps -r requirements/bench.txt
	@touch $@

$(STAMPS)/node: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@mkdir -p $(STAMPS) && touch $@

web/dist/index.html: $(STAMPS)/node $(WEB_SOURCES)
	cd web && npm run --silent build
	@touch $@

web/dist/compressed: web/dist/index.html $(STAMPS)/app
	$(BIN)/python -m whitenoise.compress --quiet web/dist/assets
	@touch $@

setup: $(STAMPS)/warm web/dist/compressed ## install what the application needs and build its front end

demo: setup ## start the application with the sample project (PORT, WERTOME_DATA)
	$(BIN)/python manage.py serve

test: setup $(STAMPS)/dev chromium ## run all tests, the browser ones included
	scripts/test

chromium:
	scripts/need-chromium

check: setup $(STAMPS)/dev ## linters, type checkers and generated files
	scripts/check

types: $(STAMPS)/app $(STAMPS)/node ## make generated files anew: API types, schemas
	$(BIN)/python manage.py schema api/openapi.json
	$(BIN)/python -m cutcore schema > docs/steps.schema.json
	cd web && npm run --silent types
	$(BIN)/python -m scripts.limits
	$(BIN)/python -m scripts.licences

wheel: web/dist/compressed ## one file to install the application from, with its built front end
	scripts/wheel

bench: $(STAMPS)/bench $(STAMPS)/warm ## measure the engine: ratios, in one table
	$(BIN)/python -m bench

drills: setup $(STAMPS)/dev chromium wheel ## rehearse the worst: kills, bad files, odd requests, memory, leaks, the wheel (a quarter of an hour on two quiet cores)
	scripts/drills

screenshots: setup $(STAMPS)/dev chromium ## take the pictures in docs/screenshots anew
	$(BIN)/python -m scripts.screenshots
