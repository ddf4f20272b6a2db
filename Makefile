# Everything starts here: make demo, make test. Each does its own set-up on a fresh machine.
PYTHON ?= python3
PORT ?= 8000
HOST ?= 127.0.0.1
# Browsers use passkeys at this machine by its name alone.
SHOWN = $(subst 127.0.0.1,localhost,$(HOST))
PY := .venv/bin/python
B := .build
WEB := $(shell find web/src web/index.html web/vite.config.ts web/tsconfig.json -type f 2>/dev/null)

# What was compiled is kept: dozens of servers start in the tests, and each would compile anew.
unexport PYTHONDONTWRITEBYTECODE

CORE := $(shell find calibration -name "*.py")

.PHONY: start demo demo-fresh test test-rules test-rest test-postgres long jobs lint lint-python lint-web types sbom contract contract-check shots tables bench format clean

SERVE = VERIFYLOOP_BIND=$(HOST):$(PORT) exec $(PY) -m gunicorn -c python:verifyloop.serving verifyloop.wsgi
# The made-up works keep their data apart from any plant's own.
DEMO := var/demo

# A plant's own data, in var or where VERIFYLOOP_DATA says.
start: $(B)/python $(B)/web
	@$(PY) manage.py start --address http://$(SHOWN):$(PORT)
	@$(SERVE)

demo: export VERIFYLOOP_DATA = $(DEMO)
demo: $(B)/python $(B)/web
	@$(PY) manage.py demo --address http://$(SHOWN):$(PORT)
	@$(SERVE)

demo-fresh: $(B)/python
	rm -rf $(DEMO)/verifyloop.sqlite3*
	@$(MAKE) --no-print-directory demo

# BESIDE names what else is to be done at the same time.
test:
	@$(MAKE) --no-print-directory -j6 test-rules test-rest $(BESIDE)

# The core's own rules need neither page nor browser: they run while those are made and fetched.
test-rules: $(B)/python-dev
	$(PY) -m tests rules

test-rest: $(B)/python-dev $(B)/web $(B)/debian
	$(PY) -m tests server postgres browser

# The same with the full counts: 200 seeds a planted fault, 10,000 orders of events.
long: $(B)/python-dev $(B)/web $(B)/debian
	VERIFYLOOP_LONG=1 $(PY) -m tests

# All of the server's tests on a PostgreSQL of their own; `make test` runs those that are about the store.
test-postgres: $(B)/python-dev $(B)/web $(B)/debian
	$(PY) -m tests.postgres tests.server

# Eleven jobs typed in the browser, for docs/jobs.md.
jobs: $(B)/python-dev $(B)/web $(B)/debian
	$(PY) manage.py test --noinput tests.browser.typed_jobs

lint: lint-python lint-web

lint-python: $(B)/python-dev
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports
	$(PY) manage.py makemigrations --check --dry-run

lint-web: $(B)/npm
	cd web && npm run --silent types && npm run --silent lint && npm run --silent format

format: $(B)/python-dev $(B)/npm
	.venv/bin/ruff check --fix .
	.venv/bin/ruff format .
	cd web && npm run --silent format:fix

# The TypeScript types come from the OpenAPI document; the check fails when they are stale.
contract: $(B)/openapi.json $(B)/npm
	cd web && npm run --silent contract -- -o src/api/schema.d.ts

contract-check: $(B)/openapi.json $(B)/npm
	cd web && npm run --silent contract -- -o ../$(B)/schema.d.ts
	@cmp web/src/api/schema.d.ts $(B)/schema.d.ts || { echo "The types are stale: make contract"; exit 1; }

.PHONY: $(B)/openapi.json
$(B)/openapi.json: $(B)/python
	$(PY) manage.py export_openapi_schema --api verifyloop.api.main.api --sorted --output $@

shots: $(B)/python-dev $(B)/web $(B)/debian
	$(PY) manage.py test tests.browser.shots --noinput

# Tables that tests compute anew: in full in docs/methods, in small in tests/core/rows.
tables: $(B)/python-dev
	$(PY) -m tests.core.passes
	for long in "" 1; do for t in planted planted_gas planted_ph planted_trace planted_mixture planted_gc planted_massflow \
	  planted_magmeters planted_belts planted_vessels planted_indicators; do \
	  VERIFYLOOP_LONG=$$long $(PY) -m tests.core.$$t >/dev/null || exit 1; done; done

# DATA names a folder that keeps the filled store. With BEFORE=REV the same is asked of an earlier commit, turn by turn in one run.
bench: $(B)/python-dev $(B)/web
	$(PY) -m tests.bench
	$(PY) -m tests.bench_goals $(or $(DATA),$(B)/bench/10000)
	$(if $(BEFORE),$(PY) -m tests.bench_beside $(BEFORE))
	$(if $(BEFORE),$(PY) -m tests.bench_crowd $(BEFORE))

$(B)/python: requirements.txt
	@scripts/python.sh $(PYTHON) requirements.txt
	@mkdir -p $(B) && touch $@

$(B)/python-dev: requirements-dev.txt $(B)/python
	@scripts/python.sh $(PYTHON) requirements-dev.txt
	@touch $@

$(B)/npm: web/package-lock.json
	@command -v npm >/dev/null || { echo "Node.js 20 or newer with npm is needed: install it, then try again."; exit 1; }
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@mkdir -p $(B) && touch $@

$(B)/web: $(B)/python $(B)/npm $(WEB) $(CORE) web/scripts/python.mjs web/python/worker.mjs scripts/browser_python.py scripts/licences.py
	cd web && npm run --silent build
	$(PYTHON) scripts/browser_python.py web/dist/python
	$(PY) scripts/licences.py web/dist
	$(PY) -m whitenoise.compress --quiet --no-brotli web/dist
	$(PY) -m whitenoise.compress --quiet web/dist/assets
	@touch $@

$(B)/debian:
	@scripts/debian.sh
	@mkdir -p $(B) && touch $@

# What is shipped, part by part, as CycloneDX: the server's packages and the interface's.
sbom: $(B)/python $(B)/npm
	$(PYTHON) -m venv $(B)/sbom && $(B)/sbom/bin/pip install --quiet --require-hashes -r requirements-sbom.txt
	grep -oE "^[a-zA-Z0-9._-]+(\[[a-z]+\])?==[^ ]+" requirements.txt > $(B)/pinned.txt
	$(B)/sbom/bin/cyclonedx-py requirements $(B)/pinned.txt --output-reproducible --output-file docs/sbom/server.json
	cd web && npm sbom --sbom-format cyclonedx --omit dev > ../docs/sbom/interface.json

clean:
	rm -rf $(B) .venv web/node_modules web/dist
