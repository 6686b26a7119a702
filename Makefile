# The two commands: `make demo` and `make test`. Everything else serves them.
SHELL := /bin/bash
PYTHON ?= python3
BIN := .venv/bin
PIP := $(BIN)/python -m pip --disable-pip-version-check --no-input -q
PORT ?= 8314
export SE_AVOID_STATS := true
export SE_OFFLINE := true

.PHONY: demo test cover fuzz soak mutants lint css css-check shots bench lock clean format changelog

demo: .venv/app.stamp
	$(BIN)/nail-count demo --port $(PORT)

# One test process for each processor. REST=1 leaves out what `make cover` runs.
HEART := tests/trade tests/files tests/test_cli.py tests/test_whole.py tests/test_complete.py
test: .venv/dev.stamp node_modules/.stamp
	@tools/browser-ready
	$(BIN)/python -m pytest -n auto $(if $(REST),src tests $(HEART:%=--ignore=%))

# The tests that try what nobody thought of, as many times as long as FUZZ says; prints how many acts were tried.
FUZZ ?= 20
fuzz: .venv/dev.stamp
	NAIL_COUNT_FUZZ=$(FUZZ) $(BIN)/python -m pytest -s tests/test_whole.py tests/web/test_security.py tests/web/test_next_by_pages.py tests/trade/rules/wires tests/trade/rules/test_many.py tests/trade/wiring/hookup/test_rewired.py tests/trade/search tests/trade/plan

# A server and commands on one folder, killed at any moment, for SOAK seconds; prints what was done.
SOAK ?= 1800
soak: .venv/dev.stamp
	NAIL_COUNT_SOAK=$(SOAK) NAIL_COUNT_SEED=$$RANDOM $(BIN)/python -m pytest -s tests/store/test_together.py

# Small errors planted in the rules, one at a time: which no test notices. MUTANTS says in which modules.
MUTANTS ?= nail_count.trade.rules.*
mutants: .venv/dev.stamp
	@NAIL_COUNT_EXAMPLES='quick to fail' $(BIN)/python tools/mutants.py run --max-children 2 "$(MUTANTS)" > mutants.log 2>&1 || { tail -5 mutants.log; exit 1; }
	@tail -c 120 mutants.log; $(BIN)/mutmut results

lint: .venv/dev.stamp css-check
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	tools/check-templates
	$(BIN)/python tools/sentences --check

# How much of the heart the tests reach, branch by branch: by its own tests, and those of files, commands and whole acts.
cover: .venv/dev.stamp
	$(BIN)/python -m pytest -n auto --cov --cov-report=term $(HEART) \
	  tests/web/test_api.py::test_an_edit_in_json_does_what_the_edit_does

# Puts the fragments in changes/ into CHANGELOG.md under VERSION, and takes them away; without VERSION it only shows them.
changelog: .venv/dev.stamp
	@$(BIN)/towncrier build $(if $(VERSION),--yes --version $(VERSION),--draft --version next)

format: .venv/dev.stamp
	$(BIN)/ruff check --fix-only .
	$(BIN)/ruff format .

css: node_modules/.stamp
	tools/build-css src/nail_count/web/static/app.css

css-check: node_modules/.stamp .venv/bin/python
	@cmp node_modules/htmx.org/dist/htmx.min.js src/nail_count/web/static/htmx.min.js
	@cmp node_modules/@fontsource-variable/archivo/files/archivo-latin-wght-normal.woff2 src/nail_count/web/static/fonts/archivo.woff2
	@cmp node_modules/dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf src/nail_count/files/fonts/sans.ttf
	@cmp node_modules/dejavu-fonts-ttf/ttf/DejaVuSansCondensed-Bold.ttf src/nail_count/files/fonts/sans-bold.ttf
	@tools/build-css .venv/app.css && cmp -s .venv/app.css src/nail_count/web/static/app.css \
	  || { echo "static/app.css is stale: run 'make css' and commit it"; exit 1; }

shots: .venv/dev.stamp node_modules/.stamp
	@tools/browser-ready
	$(BIN)/python tools/shots.py docs/screenshots

bench: .venv/dev.stamp
	@tools/browser-ready
	$(BIN)/python tools/bench.py
	$(BIN)/python tools/bench_browser.py

# Writes the hashed requirements anew from pyproject.toml. Needs the network.
lock: .venv/dev.stamp
	$(PIP) install uv
	$(BIN)/uv pip compile -q --universal --no-strip-extras --generate-hashes --no-emit-index-url --no-header --python-version 3.11 --extra build pyproject.toml -o requirements/app.txt
	$(BIN)/uv pip compile -q --universal --no-strip-extras --generate-hashes --no-emit-index-url --no-header --python-version 3.11 --extra build --extra dev pyproject.toml -o requirements/dev.txt

.venv/bin/python:
	@tools/make-venv "$(PYTHON)" .venv

.venv/app.stamp: requirements/app.txt pyproject.toml | .venv/bin/python
	$(PIP) install --require-hashes -r requirements/app.txt
	$(PIP) install --no-deps --no-build-isolation --editable .
	@touch $@

.venv/dev.stamp: requirements/dev.txt pyproject.toml | .venv/bin/python
	$(PIP) install --require-hashes -r requirements/dev.txt
	$(PIP) install --no-deps --no-build-isolation --editable .
	@touch .venv/app.stamp $@

node_modules/.stamp: package-lock.json package.json
	@command -v npm >/dev/null || { echo "npm is missing: install Node.js 18 or newer (Debian: apt-get install nodejs npm)"; exit 1; }
	npm install --no-save --no-fund --no-audit --loglevel=error
	@touch $@

clean:
	rm -rf .venv node_modules .pytest_cache .mypy_cache .ruff_cache .hypothesis .import_linter_cache
