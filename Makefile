# make demo   set up, make demo data, serve until Ctrl-C (PORT=8800)
# make test   set up, run every check and every test
# make serve  set up, upgrade with a backup, serve your own data (HOST=0.0.0.0 for the home network)
# make backup | restore FILE=…
# make setup | check | format | bench | screenshots | lock | client | clean
SHELL := /bin/sh
PYTHON ?= python3
PORT ?= 8800
HOST ?= 127.0.0.1
BIN := .venv/bin
STAMPS := var/stamps
WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/svelte.config.js src/canopy/tables/words.json src/canopy/tables/covers.json
DEMO := IDLE_CANOPY_DEMO=1

.PHONY: setup demo serve backup restore test check check-python check-web test-web test-journeys test-python format bench screenshots lock client migrations clean tools

setup: $(STAMPS)/run $(STAMPS)/web

$(STAMPS)/venv:
	@sh scripts/need_python.sh $(PYTHON)
	@mkdir -p $(STAMPS)
	@echo "Making the virtual environment…"
	@$(PYTHON) -m venv .venv
	@touch $@

$(STAMPS)/run: $(STAMPS)/venv requirements/run.lock requirements/uv.lock pyproject.toml src/canopy/light/kernels.py src/canopy/light/configuration.py src/canopy/plan/tripkernels.py
	@echo "Installing Python packages…"
	@sh scripts/install.sh requirements/run.lock
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-build-isolation --no-deps -e .
	@$(BIN)/python -c "from canopy.compiled import warm_up; warm_up()"
	@touch $@

$(STAMPS)/dev: $(STAMPS)/run requirements/dev.lock
	@echo "Installing test tools…"
	@sh scripts/install.sh requirements/dev.lock
	@touch $@

$(STAMPS)/npm: web/package.json web/package-lock.json
	@sh scripts/need_node.sh
	@mkdir -p $(STAMPS)
	@echo "Installing front-end packages…"
	@cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

$(STAMPS)/web: $(STAMPS)/npm $(STAMPS)/run $(WEB_SOURCES)
	@echo "Building the interface…"
	@cd web && npx --no-install vite build --logLevel error
	@$(BIN)/python -m whitenoise.compress --quiet web/dist
	@touch $@

demo: setup
	@$(DEMO) $(BIN)/python manage.py migrate --verbosity 0
	@$(DEMO) $(BIN)/python manage.py demo
	@$(DEMO) exec $(BIN)/python manage.py serve --port $(PORT)

serve: setup
	@$(BIN)/python manage.py prepare
	@exec $(BIN)/python manage.py serve --host $(HOST) --port $(PORT)

backup: setup
	@$(BIN)/python manage.py backup

restore: setup
	@$(BIN)/python manage.py restore $(FILE)

tools: setup $(STAMPS)/dev
	@sh scripts/need_chromium.sh
	@sh scripts/need_mosquitto.sh

check: setup $(STAMPS)/dev
	@$(MAKE) --no-print-directory -j2 check-python check-web

check-python:
	$(BIN)/ruff format --check --quiet .
	$(BIN)/ruff check --quiet .
	$(BIN)/mypy --no-error-summary
	$(BIN)/lint-imports --no-logo
	$(BIN)/python manage.py makemigrations --check --dry-run --verbosity 0

check-web:
	cd web && npm run --silent check && npm run --silent lint

# two at a time: those in the browser wait for pages, the others meanwhile reckon
test: tools check
	@$(MAKE) --no-print-directory -j2 test-journeys test-python test-web

test-web:
	cd web && npm run --silent test

test-journeys:
	$(BIN)/pytest tests/journeys

test-python:
	$(BIN)/pytest --ignore tests/journeys

format: setup $(STAMPS)/dev
	$(BIN)/ruff format .
	$(BIN)/ruff check --fix .
	cd web && npm run --silent format

bench: tools
	$(BIN)/python -m benchmarks

screenshots: tools
	$(BIN)/python scripts/screenshots.py

client: setup
	$(BIN)/python manage.py export_openapi_schema --api server.config.api.api --sorted --indent 1 --output tests/contracts/openapi.json
	cd web && npm run --silent client

migrations: setup
	$(BIN)/python manage.py makemigrations

lock: $(STAMPS)/venv
	@for name in uv run dev; do $(BIN)/uv pip compile --quiet --generate-hashes --python-version 3.11 --no-emit-index-url --no-header requirements/$$name.in -o requirements/$$name.lock; done

clean:
	rm -rf .venv web/node_modules web/dist $(STAMPS) test-results
