# make demo: set up and start with the demo data.  make test: set up and run every check.
SHELL := /bin/bash
.DELETE_ON_ERROR:
VENV := .venv
PY := $(VENV)/bin/python
PIP := flock $(VENV)/pip.lock $(PY) -m pip install -q --no-compile --require-hashes# one at a time
WEB := src/wavilex/server/web
FRONT_SRC := $(shell find frontend/src frontend/*.* -type f 2>/dev/null)
PY_SRC := $(shell find src -name '*.py' -o -name '*.yaml' | grep -v /web/)
PORT ?= 8420
export PIP_DISABLE_PIP_VERSION_CHECK := 1
export PIP_ROOT_USER_ACTION := ignore
export PYTHONDONTWRITEBYTECODE :=# compiled code is kept: a dozen processes start in one run of the tests

FONTS := src/wavilex/server/paper/fonts/bold.ttf

.PHONY: demo test setup lint types core server front ui bench shots soak wheel mutants kept clean

demo: $(VENV)/run.stamp $(WEB)/index.html $(FONTS)
	@$(PY) -m wavilex.server.demo $(if $(RESET),--reset) --port $(PORT)

# what runs on one core goes two at a time; the tests themselves take both
test:
	@$(MAKE) --no-print-directory -j3 --output-sync=target setup lint types front
	@$(MAKE) --no-print-directory core server ui
	@echo "every check passed"

setup: $(VENV)/dev.stamp frontend/node_modules/.stamp $(WEB)/index.html $(FONTS) $(VENV)/system.stamp

$(VENV)/bin/python:
	python3 -m venv $(VENV)

$(VENV)/run.stamp: requirements/run.txt pyproject.toml | $(VENV)/bin/python
	$(PIP) -r requirements/run.txt
	echo "$(CURDIR)/src" > "$$($(PY) -c 'import sysconfig; print(sysconfig.get_path("purelib"))')/wavilex.pth"
	printf '#!/bin/sh\nexec "%s" -m wavilex.cli "$$@"\n' "$(CURDIR)/$(PY)" > $(VENV)/bin/wavilex
	chmod +x $(VENV)/bin/wavilex
	touch $@

$(VENV)/dev.stamp: requirements/dev.txt $(VENV)/run.stamp
	$(PIP) -r requirements/dev.txt
	touch $@

$(VENV)/system.stamp: tools/system_packages.sh | $(VENV)/bin/python
	bash tools/system_packages.sh
	touch $@

frontend/node_modules/.stamp: frontend/package-lock.json frontend/package.json
	cd frontend && npm ci --no-audit --no-fund --loglevel=error
	touch $@

$(VENV)/build.stamp: requirements/build.txt $(VENV)/run.stamp
	$(PIP) -r requirements/build.txt
	touch $@

$(FONTS): tools/paper_fonts.py $(VENV)/build.stamp frontend/node_modules/.stamp
	$(PY) tools/paper_fonts.py

$(WEB)/index.html: frontend/node_modules/.stamp $(FRONT_SRC)
	cd frontend && npm run -s build
	touch $@

lint: $(VENV)/dev.stamp frontend/node_modules/.stamp
	$(VENV)/bin/ruff check src tests tools
	$(VENV)/bin/ruff format --check src tests tools
	$(VENV)/bin/lint-imports
	cd frontend && npm run -s lint

types: $(VENV)/dev.stamp frontend/node_modules/.stamp
	$(VENV)/bin/mypy
	$(PY) tools/api_schema.py --check
	$(PY) tools/schemas.py --check
	cd frontend && npm run -s check

core: $(VENV)/dev.stamp $(VENV)/system.stamp
	$(VENV)/bin/pytest tests/core -n 2 --durations=20

server: $(VENV)/dev.stamp $(WEB)/index.html $(FONTS)
	$(VENV)/bin/pytest tests/server -n 2 --durations=20

front: frontend/node_modules/.stamp
	cd frontend && npm run -s test

# what fails is tried once more, and told
ui: $(VENV)/dev.stamp $(VENV)/system.stamp $(WEB)/index.html $(FONTS)
	$(VENV)/bin/pytest tests/ui -n 3 --dist worksteal -p pytest_randomly --durations=20 --reruns 1 -rR

bench: setup
	$(PY) tools/bench.py
	$(PY) tools/bench_film.py

shots: setup
	$(PY) tools/shots.py

soak: setup
	$(VENV)/bin/pytest tests -m soak -n 2

wheel: $(VENV)/build.stamp $(WEB)/index.html $(FONTS)
	$(PY) -m pip wheel . --no-deps --no-build-isolation -q -w dist

mutants: setup
	$(PY) -m tools.mutants

kept: setup
	$(PY) tools/kept.py

clean:
	rm -rf dist $(VENV) frontend/node_modules $(WEB) $(dir $(FONTS))
