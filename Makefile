# The chores of the house; `make` alone lists them.
PORT ?= 8000
HOUSE ?= marram
DEMO_NAME = $(if $(filter marram,$(HOUSE)),demo,$(HOUSE))
DEMO_DB := data/$(DEMO_NAME)$(if $(filter-out 8000,$(PORT)),-$(PORT)).db
VENV := .venv
WORKERS ?= auto
PY := $(VENV)/bin/python
STYLES := $(wildcard abrazo/web/static/styles/*.css)
export PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD := 1

help: ## this list
	@grep -E '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed 's/:.*## /\t/' | expand -t 14

$(VENV)/.ready: requirements/run.txt requirements/dev.txt pyproject.toml
	python3 -m venv $(VENV)
	$(VENV)/bin/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/run.txt -r requirements/dev.txt
	$(VENV)/bin/pip install --quiet --disable-pip-version-check --no-build-isolation --no-deps -e .
	touch $@

setup: $(VENV)/.ready ## the virtual environment, so that .venv/bin/abrazo runs

chromium:
	@command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || { \
	  if [ "$$(id -u)" = 0 ]; then SUDO=; else SUDO=sudo; fi; \
	  export DEBIAN_FRONTEND=noninteractive; $$SUDO apt-get update -qq && \
	  { $$SUDO apt-get install -y -qq --no-install-recommends chromium-headless-shell || \
	    $$SUDO apt-get install -y -qq --no-install-recommends chromium; }; }

demo: setup ## the invented house at http://127.0.0.1:8000 (make demo PORT=8123 for another port, with a database of its own; make demo HOUSE=quarry-lake for the other house)
	$(VENV)/bin/abrazo demo --house $(HOUSE) --port $(PORT) --db $(DEMO_DB)

test: setup chromium ## all tests, browser tests included
	$(PY) -m pytest -n $(WORKERS) --dist worksteal

test-long: setup chromium ## every page at seven widths, every button and forms with anything in them, fifty kills, thousands of random cases
	$(PY) -m pytest tests/long -n auto
	PROPERTIES=long $(PY) -m pytest tests/core tests/desk/test_evening.py -n auto

acts: setup chromium ## how many acts each job takes, beside what is wanted
	@counts=$$(mktemp); ACTS=$$counts $(PY) -m pytest tests/stories -n auto -q \
	  -m acts >/dev/null || echo "some stories failed: make test"; \
	  $(PY) -m tests.stories.acts $$counts; rm -f $$counts

fmt: setup ## format the code
	$(VENV)/bin/ruff check --fix --quiet . ; $(VENV)/bin/ruff format --quiet .
	$(VENV)/bin/djlint --quiet --reformat abrazo/web/templates || true
	$(VENV)/bin/css-beautify --replace --indent-size 2 --end-with-newline $(STYLES) >/dev/null

lint: setup ## style, types, layers
	$(VENV)/bin/ruff check .
	$(VENV)/bin/ruff format --check --quiet .
	$(VENV)/bin/djlint --quiet --check abrazo/web/templates
	@for style in $(STYLES); do $(VENV)/bin/css-beautify --indent-size 2 --end-with-newline $$style | cmp -s - $$style || { echo "$$style: make fmt"; exit 1; }; done
	$(VENV)/bin/mypy
	$(VENV)/bin/lint-imports

mutants: setup ## changes to the core that its tests do not notice (long)
	$(VENV)/bin/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/mutants.txt
	PROPERTIES=mutants $(VENV)/bin/mutmut run
	$(PY) -m tests.core.mutants

bench: setup ## benchmarks, as ratios to a baseline in the same run
	$(PY) -m bench

screenshots: setup chromium ## the pictures in docs/screenshots, from the demo's data
	$(PY) -m tests.stories.screenshots

schemas: setup ## the JSON Schemas in docs/formats from the models, docs/data.md from the database's schema
	$(PY) -c "from pathlib import Path; from tests.house.schema_docs import page; Path('docs/data.md').write_text(page(), 'utf-8')"
	$(PY) -c "from pathlib import Path; from tests.house.set_up_docs import page; Path('docs/set-up.md').write_text(page(), 'utf-8')"
	$(PY) -c "from pathlib import Path; from abrazo.formats.ticket_schema import schemas, text; [Path('docs/formats', name).write_text(text(schema), 'utf-8') for name, schema in schemas().items()]"

words: setup ## the template of all sentences, from which another language begins
	$(PY) -c "from pathlib import Path; from abrazo.web.pages import sources; from abrazo.words.template import template; Path('abrazo/words/languages/abrazo.pot').write_text(template(sources()), 'utf-8')"

lock: setup ## pin the dependencies anew
	$(VENV)/bin/pip-compile --quiet --generate-hashes --no-emit-index-url --no-emit-find-links --strip-extras --no-header -o requirements/run.txt requirements/run.in
	$(VENV)/bin/pip-compile --quiet --generate-hashes --no-emit-index-url --no-emit-find-links --strip-extras --no-header --allow-unsafe -o requirements/dev.txt requirements/dev.in
	$(VENV)/bin/pip-compile --quiet --generate-hashes --no-emit-index-url --no-emit-find-links --strip-extras --no-header --allow-unsafe -o requirements/mutants.txt requirements/mutants.in

.PHONY: help setup chromium demo test test-long acts fmt lint mutants bench screenshots schemas words lock
