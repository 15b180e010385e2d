# One obvious command for each chore. Each sets up what it needs and is safe to repeat.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STAMPS := .stamps
# What is imported is compiled once, not by each process that is started, whatever the shell says.
export PYTHONDONTWRITEBYTECODE :=
# The pins are whole: nothing to resolve, and what is imported is compiled then.
PIP := $(BIN)/pip install -q --require-hashes --no-deps --no-compile
PORT ?= 8741
WEB_SOURCES := $(shell find web/src web/public web/index.html web/vite.config.ts -type f 2>/dev/null)

.PHONY: install ready demo serve dev test mutants mutant-sample mutants-web torture lint lint-python lint-web types screenshots bench bench-long bench-season package clean

install: $(STAMPS)/run $(STAMPS)/web ## What running needs

$(STAMPS)/venv:
	$(PYTHON) -m venv $(VENV)
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/run: requirements.txt requirements-build.txt pyproject.toml | $(STAMPS)/venv
	$(PIP) -r requirements-build.txt -r requirements.txt
	$(BIN)/pip install -q --no-build-isolation --no-deps -e .
	@touch $@

$(STAMPS)/dev: requirements-dev.txt $(STAMPS)/run
	$(PIP) -r requirements-dev.txt
	@touch $@

$(STAMPS)/npm: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/web: $(WEB_SOURCES) $(STAMPS)/npm
	cd web && npm run --silent build
	@touch $@

$(STAMPS)/chromium:
	sh scripts/install-chromium.sh
	@mkdir -p $(STAMPS) && touch $@

demo: install ## The demo workshop on 127.0.0.1
	$(BIN)/weftonos demo --port $(PORT) --data-dir .demo-data

serve: install ## Your own workshop on 127.0.0.1
	$(BIN)/weftonos serve --port $(PORT)

dev: install ## Live reload of pages and server, on the demo
	sh scripts/dev.sh

types: $(STAMPS)/run $(STAMPS)/npm ## The browser's types, from the OpenAPI document
	$(BIN)/weftonos openapi web/openapi.json
	cd web && npm run --silent types

lint: lint-python lint-web

lint-python: $(STAMPS)/dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check -q .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache

lint-web: $(STAMPS)/npm
	cd web && npm run --silent typecheck && npm run --silent lint && npm run --silent format:check

ready: install $(STAMPS)/dev $(STAMPS)/chromium

test: ## Whatever is needed, side by side; then the linters, then the tests
	+$(MAKE) --no-print-directory -j3 -O ready
	+$(MAKE) --no-print-directory -j2 -O lint
	cd web && npm run --silent test
	$(BIN)/pytest -n 3 --dist loadfile --no-loadscope-reorder

mutants: $(STAMPS)/dev ## Small faults in the estimators, and whether the tests notice; over an hour
	$(BIN)/python scripts/mutants.py

mutant-sample: $(STAMPS)/dev ## A seeded sample of faults outside the estimators, for half an hour; goes on where it was broken off
	$(BIN)/python scripts/mutant_sample.py 30

mutants-web: $(STAMPS)/npm ## Small faults in the browser's tested TypeScript; goes on from the run before
	sh scripts/mutants_web.sh

torture: install $(STAMPS)/dev $(STAMPS)/chromium ## Deaths, storms, races, floods, strangers, full disks; under an hour
	cd scripts && ../$(BIN)/python -u -m torture
	WEFTONOS_AT_ONCE=50 $(BIN)/pytest -q tests/api/test_call_examples.py
	WEFTONOS_KEYBOARD=1 $(BIN)/pytest -q --timeout 1200 tests/browser/test_evenings.py

screenshots: install $(STAMPS)/dev $(STAMPS)/chromium ## Refresh docs/screenshots from the demo
	$(BIN)/python scripts/screenshots.py

package: install ## A wheel that carries the pages: it installs and runs without Node
	$(BIN)/hatchling build -t wheel

bench: install $(STAMPS)/dev
	$(BIN)/python scripts/bench.py

bench-long: install $(STAMPS)/dev $(STAMPS)/chromium ## What needs an hour: every kind of machine on every screen, upgrades of 100 000 records, 500 combinations in each world, 2 000 screws a law
	WEFTONOS_MACHINES=600 $(BIN)/pytest -q --timeout 7200 tests/api/test_every_machine.py
	WEFTONOS_RECORDS=100000 $(BIN)/pytest -q --timeout 7200 -k "earlier_migration and (0004 or 0009)" tests/api/test_a_lifted_workshop.py
	cd scripts && ../$(BIN)/python balance_worlds.py 500
	cd scripts && ../$(BIN)/python bench_plans.py
	cd scripts && ../$(BIN)/python -c "import bench_mend as b; b.bench_truths(400)"
	cd scripts && ../$(BIN)/python -c "import bench_bobbin as b; b.bench_screw_laws(2000); b.bench_dead_screws()"

bench-season: install $(STAMPS)/dev ## 200 simulated workshops, by habit and by the program; goes on where it was broken off
	$(BIN)/python scripts/bench_season.py

clean:
	rm -rf $(VENV) $(STAMPS) web/node_modules src/weftonos/static .demo-data
