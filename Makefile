# make demo | dev | quick | test | bench | trials | screenshots; PORT= and RASANTE_DATA= change where the demo lives.
PY := .venv/bin/python
APT := apt-get update -qq -o Acquire::http::Timeout=20 && DEBIAN_FRONTEND=noninteractive \
	apt-get install -y -qq --no-install-recommends
export RASANTE_DATA ?= $(CURDIR)/var
# What one process has compiled the next one reads, whatever the shell says of it.
export PYTHONDONTWRITEBYTECODE :=
# Several workers run beside one another: none spreads its algebra over all cores.
TEST := OPENBLAS_NUM_THREADS=1 $(PY) -W error::RuntimeWarning manage.py test --settings tests.settings

# The databases that tests begin from are made once for all.
PREPARED := trap 'rm -rf $$RASANTE_PREPARED' EXIT; export RASANTE_PREPARED=$$(mktemp -d);

.PHONY: demo dev quick test bench trials screenshots web schema lock lint packages check-core check-api check-browser format

demo: .venv/run rasante/webapp/index.html
	$(PY) -m rasante.cli demo

# Server and web app with reload, on the demo data: http://localhost:5173. Ctrl-C stops both.
dev: .venv/run web/node_modules/.done
	$(PY) manage.py migrate --verbosity 0
	$(PY) manage.py load_demo
	@trap 'trap - EXIT INT TERM; kill 0' EXIT INT TERM; \
	$(PY) manage.py runserver 127.0.0.1:8000 & \
	cd web && npm run --silent dev -- --port 5173 --strictPort

# What a change most likely breaks, in under 90 s: style, types, rooms, and all tests of core and API but the slow.
quick: .venv/test web/node_modules/.done
	@$(PREPARED) $(MAKE) --output-sync -j3 lint-types lint-style lint-web migrated && \
	$(TEST) tests.core tests.api --parallel 3 --exclude-tag slow

# What takes longest begins first: no core waits for it at the end.
LONGEST := $(addprefix tests.browser.test_,watch screens trouble visits visits_together typing_goes_on chain outbox) \
	$(addprefix tests.browser.test_,pouring web_logic) \
	$(addprefix tests.core.test_,faults fault_advice fault_ahead uncertainty parting)

# What waits for a download lets what does not wait go on.
test:
	@$(PREPARED) \
	$(MAKE) --output-sync -j3 .venv/test prepared web/node_modules/.done packages lint rasante/webapp/index.html && \
	$(TEST) $(LONGEST) tests.core tests.api tests.browser --parallel 3

.PHONY: prepared migrated
prepared: .venv/test
	$(PY) -m tests.prepared demo

migrated: .venv/test
	$(PY) -m tests.prepared migrated

LINTS := lint-style lint-types lint-api lint-web
.PHONY: $(LINTS)
lint: $(LINTS)

lint-web: web/node_modules/.done
	cd web && npm run --silent check

lint-style: .venv/test
	.venv/bin/ruff format --check . && .venv/bin/ruff check .
	.venv/bin/lint-imports

lint-types: .venv/test
	.venv/bin/mypy

lint-api: .venv/test web/node_modules/.done
	$(PY) -m tests.fresh
	cd web && npx --no-install openapi-typescript src/api/schema.yaml | diff - src/api/schema.d.ts

check-core check-api: check-%: .venv/test
	$(TEST) tests.$* --parallel 2

check-browser: .venv/test
	@$(PREPARED) $(TEST) $(filter tests.browser.%,$(LONGEST)) tests.browser --parallel 3

bench: .venv/test
	$(PY) -m tests.bench

# Long trials under hostile bodies, kills and colleagues; SEED= repeats one, and names run some of them.
trials: .venv/test rasante/webapp/index.html
	$(PY) -m tests.trials $(TRIALS)

screenshots: .venv/test rasante/webapp/index.html packages
	$(PY) -m tests.browser.screenshots

# After a change of the API: write its schema and the typed client anew.
schema: .venv/test web/node_modules/.done
	$(PY) manage.py spectacular --validate --fail-on-warn --file web/src/api/schema.yaml
	cd web && npm run --silent client
	$(PY) -m rasante.core.tanks.schema > rasante/core/tanks/tank_file.schema.json

format: .venv/test web/node_modules/.done
	.venv/bin/ruff format . && .venv/bin/ruff check --fix .
	cd web && npm run --silent format

lock: .venv/bin/python
	$(PY) -m pip install --quiet pip-tools
	cd requirements && for part in run test; do ../.venv/bin/pip-compile --quiet --upgrade --strip-extras \
		--no-emit-index-url --no-emit-trusted-host --no-emit-find-links --no-annotate --no-header \
		--output-file $$part.txt $$part.in; done

web: rasante/webapp/index.html

# uv installs a list in a third of the time that pip takes; where it cannot be had, or does not find what pip is told to
# look in, pip does it. The lists name all that each needs. What is imported is compiled then, not all at once.
PIP := $(PY) -m pip --quiet --disable-pip-version-check install --no-compile
INSTALL = .venv/bin/uv pip install --quiet --python $(PY) --no-deps $(1) || $(PIP) --no-deps $(1)

# A system's own Python is built to its profile: the tests take a sixth less with it than with one that was built as it
# comes. It serves where it is new enough and can make an environment.
PYTHON ?= $(shell /usr/bin/python3 -c 'import sys, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null \
	&& echo /usr/bin/python3 || echo python3)

.venv/bin/python:
	$(PYTHON) -m venv .venv
	$(PIP) uv || true

.venv/run: requirements/run.txt pyproject.toml | .venv/bin/python
	$(call INSTALL,-r requirements/run.txt)
	$(call INSTALL,--editable .)
	touch $@

.venv/test: requirements/test.txt .venv/run
	$(call INSTALL,-r requirements/test.txt)
	touch $@

web/node_modules/.done: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

rasante/webapp/index.html: .venv/run web/node_modules/.done web/index.html web/vite.config.ts $(shell find web/src -type f)
	cd web && npm run --silent build -- --logLevel warn
	$(PY) -m whitenoise.compress --quiet rasante/webapp

# From Debian's packages, in one go: the browser that the tests drive, and a real broker for what listens to MQTT. The
# shell without windows does the tests in about half the time; where it cannot be had, the whole browser serves.
packages:
	@wanted=; test -x /usr/sbin/mosquitto || wanted=mosquitto; \
	test -x /usr/bin/chromium-headless-shell || { $(APT) chromium-headless-shell $$wanted && wanted=; } || \
		test -x /usr/bin/chromium || wanted="$$wanted chromium"; \
	test -z "$$wanted" || { $(APT) $$wanted; }
