# Cold Stack. `make demo` and `make test` do everything on a fresh Linux or macOS machine with Python 3.11 and Node 20.
# A bytecode cache is worth a second at each start.
unexport PYTHONDONTWRITEBYTECODE
export UV_PYTHON_DOWNLOADS = never

# What does not wait for each other is done side by side.
MAKEFLAGS += -j3
PYTHON3 ?= python3
PY = .venv/bin/python
UV = .venv/bin/uv
PORT ?= 8600
HOW = --port $(PORT) $(if $(HOST),--host $(HOST)) $(if $(TLS),--tls) $(if $(DATA),--data $(DATA))
WEB_SOURCES = $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/package.json

.PHONY: demo run test thorough fuzz check bench bench-web mutants sentences screenshots dev parts build setup lock types clean

demo: build  ## set up, build, and serve the demo world, which lies apart from one's own data
	@$(PY) manage.py serve --demo $(HOW)

run: build  ## set up, build, and serve one's own world
	@$(PY) manage.py serve --own $(HOW)

build: .venv/.run coldstack/web_dist/.ready .venv/.kernel .venv/.rush

setup: .venv/.ready web/node_modules/.ready

# What the program needs, and beside it what its tests, checks and benchmarks need.
.venv/.run: requirements.txt requirements-uv.txt
	@echo "Setting up Python packages …"
	@test -x $(PY) || $(PYTHON3) -m venv .venv
	@test -x $(UV) || $(PY) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements-uv.txt
	@$(UV) pip install --quiet --python .venv --require-hashes -r requirements.txt
	@touch $@

.venv/.ready: .venv/.run requirements-dev.txt
	@echo "Setting up what tests and checks need …"
	@$(UV) pip sync --quiet --python .venv --require-hashes requirements-dev.txt
	@touch $@

# Whoever only runs the program needs no packages for tests and checks.
web/node_modules/.run: web/package.json web/package-lock.json
	@echo "Setting up front-end packages …"
	@cd web && npm ci --omit=dev --no-audit --no-fund --loglevel=error
	@touch $@

web/node_modules/.ready: web/package.json web/package-lock.json
	@echo "Setting up front-end packages, with what tests and checks need …"
	@cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch web/node_modules/.run $@

RUNS_ONLY = $(if $(filter-out demo run build,$(or $(MAKECMDGOALS),demo)),,yes)
WEB_PACKAGES = web/node_modules/$(if $(RUNS_ONLY),.run,.ready)

coldstack/web_dist/.ready: $(WEB_PACKAGES) .venv/.run $(WEB_SOURCES) scripts/licences.py
	@echo "Building the screens …"
	@cd web && npm run --silent build -- --logLevel warn
	@$(PY) scripts/licences.py
	@$(PY) -m whitenoise.compress --quiet coldstack/web_dist
	@touch $@

COMPILING = coldstack/core/discharge/compiling.py
.venv/.kernel: .venv/.run $(COMPILING) coldstack/core/discharge/kernel.py
	@echo "Compiling the discharge …"
	@$(PY) -c "from coldstack.core.discharge import simulate; simulate.warm_up()"
	@touch $@

.venv/.rush: .venv/.run $(COMPILING) coldstack/core/boards/exchange.py
	@echo "Compiling what flows between packs on a board …"
	@$(PY) -c "from coldstack.core.boards import rush; rush.warm_up()"
	@touch $@

chromium:
	@command -v chromium-headless-shell >/dev/null \
		|| { echo "Installing Chromium …"; sh scripts/install_chromium.sh; }
.PHONY: chromium

wheel: build .venv/.ready  ## one file with everything in it, for machines with Python alone
	@rm -rf dist && $(UV) build --quiet --wheel --no-build-isolation --python $(PY) --out-dir dist
	@ls -l dist/*.whl
.PHONY: wheel

.venv/wheelhouse/.ready: requirements.txt .venv/.ready
	@echo "Fetching what a fresh environment would fetch …"
	@$(PY) -m pip download -qq --disable-pip-version-check --require-hashes \
		-r requirements.txt -d .venv/wheelhouse
	@touch $@

test: build .venv/.ready chromium .venv/wheelhouse/.ready  ## set up and run all tests
	@cd web && npm run --silent test
	@$(PY) manage.py test --parallel 3

thorough: build .venv/.ready chromium .venv/wheelhouse/.ready  ## with every case of the large tables
	@TEST_THOROUGH=1 $(PY) manage.py test --parallel 3

fuzz: build .venv/.ready  ## some 13,000 made-up requests: none may be a server's error
	@FUZZ_EXAMPLES=150 $(PY) manage.py test tests.server.test_program.Fuzz

check: setup  ## ruff, mypy, words, Biome, tsc, and whether generated files are up to date
	@.venv/bin/ruff format --check --quiet .
	@.venv/bin/ruff check --quiet .
	@.venv/bin/mypy coldstack manage.py
	@$(PY) scripts/check_words.py
	@cd web && npm run --silent lint
	@cd web && npm run --silent tsc
	@sh scripts/check_generated.sh

types: setup  ## write openapi.json, the table of fields and the TypeScript types anew
	@$(PY) manage.py export_openapi_schema --api coldstack.server.api.api.api --sorted --indent 1 > coldstack/server/api/openapi.json
	@$(PY) scripts/house_figures.py
	@$(PY) manage.py export_fields > web/src/api/fields.ts
	@$(PY) manage.py export_fields --units > web/src/api/units.ts
	@$(PY) manage.py export_fields --schema > docs/gear.schema.json
	@cd web && npm run --silent types

bench: build .venv/.ready  ## print the measured speeds
	@$(PY) -m bench

bench-web: build .venv/.ready chromium  ## what typing and dragging cost the browser; AGAINST=REVISION: there too
	@$(PY) -m bench.screens $(AGAINST)

mutants: build .venv/.ready  ## change core line by line, and see whether its tests notice
	@SAMPLE=$(SAMPLE) $(PY) scripts/mutants.py $(ONLY)

sentences: .venv/.ready  ## write every sentence of core and server as a template: sentences.pot, for gettext
	@PYTHONPATH=. $(PY) scripts/sentences.py

screenshots: build .venv/.ready chromium  ## take the pictures of docs/screenshots from the demo world
	@$(PY) scripts/screenshots.py

dev: setup  ## Django and Vite, both with reload: open the address that Vite prints
	@export COLD_STACK_WORLD=demo; $(PY) manage.py migrate --verbosity 0 && $(PY) manage.py load_demo
	@trap 'kill 0' EXIT; COLD_STACK_WORLD=demo COLD_STACK_DEBUG=1 $(PY) manage.py runserver 127.0.0.1:8600 & cd web && npm run dev

parts: web/node_modules/.ready  ## every part of the screens in its states, on a page: open the address that Vite prints
	@cd web && npx vite --open /parts/

LOCK = $(UV) pip compile --quiet --universal --python-version 3.11 --generate-hashes \
	--no-emit-index-url --custom-compile-command "make lock"
lock: .venv/.ready  ## compile the requirement files anew
	@$(LOCK) requirements-uv.in -o requirements-uv.txt
	@$(LOCK) pyproject.toml -o requirements.txt
	@$(LOCK) pyproject.toml requirements-dev.in -o requirements-dev.txt

clean:
	rm -rf .venv dist web/node_modules coldstack/web_dist test-artifacts .mypy_cache .ruff_cache .hypothesis
