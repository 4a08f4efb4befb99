# Two commands do everything on a fresh machine: `make demo` and `make test`.
# Each step leaves a stamp under .stamps/, so a second start only does what changed.
PYTHON ?= python3
PORT ?= 8000
VENV := .venv
BIN := $(VENV)/bin
STAMPS := .stamps
PIP := $(BIN)/pip --disable-pip-version-check --quiet
FRONT_SOURCES := $(shell find frontend/src frontend/index.html frontend/take-home.html frontend/vite.config.ts frontend/vite.take-home.config.ts frontend/tsconfig.json -type f 2>/dev/null)
WEB_SOURCES := $(shell find nailhead -name '*.py' 2>/dev/null)
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)

.PHONY: demo test fuzz test-long torment lint bench corpus digest screenshots lock clean
.DELETE_ON_ERROR:

demo: $(STAMPS)/front ## install, build and start with the invented shelf
	PORT=$(PORT) $(BIN)/nailhead serve --demo

test: lint $(STAMPS)/front $(STAMPS)/chromium
	cd frontend && npx --no-install vitest run
	$(BIN)/pytest -n 3 --dist loadscope --durations=25

fuzz: $(STAMPS)/test ## the property tests with new examples, as often as asked for (ROUNDS=5)
	for round in $$(seq $(or $(ROUNDS),5)); do HYPOTHESIS_PROFILE=fuzz $(BIN)/pytest -n 2 -q -m hypothesis || exit 1; done

test-long: $(STAMPS)/long ## generated requests (EXAMPLES=200 an operation) and 50,000 mutated ones, then faults planted in arrange and store (hours; MUTANTS="nailhead.store.*" for a part)
	$(BIN)/python -W ignore -m pytest -q -n 2 tests/long_schema.py
	$(BIN)/python -W ignore -m tests.fuzz_requests --count 50000
	LONG=1 $(BIN)/pytest -n 2 --dist loadscope
	$(BIN)/mutmut run $(MUTANTS)
	$(BIN)/mutmut results

torment: $(STAMPS)/test $(STAMPS)/front ## a quarter of an hour of kills, mutated requests, readers and damaged backups (MINUTES=15 SEED=1)
	$(BIN)/python -W ignore -m tests.torment --minutes $(or $(MINUTES),15) --seed $(or $(SEED),1)

lint: $(STAMPS)/test $(STAMPS)/front
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	cd frontend && npx --no-install vue-tsc --noEmit && npx --no-install eslint .

bench: $(STAMPS)/test $(STAMPS)/front $(STAMPS)/chromium ## speed and memory, measured and printed
	$(BIN)/python -m tests.bench
	$(BIN)/python -W ignore -m tests.bench_outside
	$(BIN)/python -W ignore -m tests.bench_shelf
	$(BIN)/python -m tests.bench_plan
	$(BIN)/python -W ignore -m tests.bench_ladder
	$(BIN)/python -W ignore -m tests.bench_in_app
	$(BIN)/python -W ignore -m tests.bench_practice
	$(BIN)/python -W ignore -m tests.bench_load
	$(BIN)/python -W ignore -m tests.bench_memory

corpus: $(STAMPS)/test ## on real tunes: the ABC reader against music21 (all), planner, banjo ladders and chords (300), cores of settings (all)
	$(BIN)/python -m tests.formats.corpus_report
	$(BIN)/python -W ignore -m tests.plan_report
	$(BIN)/python -W ignore -m tests.arrange_report
	$(BIN)/python -W ignore -m tests.chord_report
	$(BIN)/python -W ignore -m tests.practice_report
	$(BIN)/python -W ignore -m tests.setting_pairs

digest: $(STAMPS)/test ## every stroke of the banjo's ladders on 300 real tunes against the kept digests
	$(BIN)/python -m tests.digest

screenshots: $(STAMPS)/front $(STAMPS)/test $(STAMPS)/chromium ## the pictures of the README, from the demo shelf
	$(BIN)/python -m tests.browser.screenshots

lock: ## refresh the lock files (needs uv)
	uv pip compile pyproject.toml --extra png --universal --python-version 3.11 --generate-hashes --no-header -o requirements/app.txt
	uv pip compile --group build --universal --python-version 3.11 --generate-hashes --no-header -o requirements/build.txt
	uv pip compile pyproject.toml --extra png --extra cluster --group test --universal --python-version 3.11 --generate-hashes --no-header -o requirements/test.txt
	uv pip compile pyproject.toml --extra png --extra cluster --group test --group long --universal --python-version 3.11 --generate-hashes --no-header -o requirements/long.txt

$(STAMPS)/venv:
	@mkdir -p $(STAMPS)
	$(PYTHON) -m venv $(VENV) || ($(SUDO) apt-get update -qq && $(SUDO) apt-get install -y -qq python3-venv && $(PYTHON) -m venv $(VENV))
	@touch $@

$(STAMPS)/app: $(STAMPS)/venv requirements/app.txt pyproject.toml
	$(PIP) install --require-hashes -r requirements/app.txt
	$(PIP) install --no-deps -e .
	@touch $@

$(STAMPS)/test: $(STAMPS)/app requirements/test.txt
	$(PIP) install --require-hashes -r requirements/test.txt
	@touch $@

$(STAMPS)/long: $(STAMPS)/test requirements/long.txt
	$(PIP) install --require-hashes -r requirements/long.txt
	@touch $@

$(STAMPS)/chromium:
	@mkdir -p $(STAMPS)
	@[ -x /usr/bin/chromium ] || ($(SUDO) apt-get update -qq && $(SUDO) apt-get install -y -qq chromium)
	@touch $@

$(STAMPS)/npm: frontend/package.json frontend/package-lock.json
	@mkdir -p $(STAMPS)
	cd frontend && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

# The faces that the sheet is printed with: its painters measure and embed the same files.
FACES := frontend/node_modules/@expo-google-fonts
$(STAMPS)/fonts: $(STAMPS)/npm
	mkdir -p nailhead/sheet/fonts
	cp $(FACES)/atkinson-hyperlegible/400Regular/AtkinsonHyperlegible_400Regular.ttf nailhead/sheet/fonts/text.ttf
	cp $(FACES)/atkinson-hyperlegible/700Bold/AtkinsonHyperlegible_700Bold.ttf nailhead/sheet/fonts/text-bold.ttf
	cp $(FACES)/zilla-slab/500Medium/ZillaSlab_500Medium.ttf nailhead/sheet/fonts/title.ttf
	cp $(FACES)/zilla-slab/600SemiBold/ZillaSlab_600SemiBold.ttf nailhead/sheet/fonts/title-bold.ttf
	cp $(FACES)/noto-sans/400Regular/NotoSans_400Regular.ttf nailhead/sheet/fonts/other.ttf
	cp $(FACES)/noto-sans/700Bold/NotoSans_700Bold.ttf nailhead/sheet/fonts/other-bold.ttf
	cp $(FACES)/noto-sans/LICENSE_FONT nailhead/sheet/fonts/LICENSE-noto-sans
	cp $(FACES)/zilla-slab/LICENSE_FONT nailhead/sheet/fonts/LICENSE-zilla-slab
	cp $(FACES)/atkinson-hyperlegible/LICENSE_FONT nailhead/sheet/fonts/LICENSE-atkinson-hyperlegible
	@touch $@

# The staff's signs are outlines out of a music font, the frets' figures a few letters of another one; what reads fonts is
# needed for that alone, in a place of its own.
$(STAMPS)/drawn: tools/signs.py tools/figures.py requirements/build.txt $(STAMPS)/fonts
	@mkdir -p $(STAMPS) nailhead/sheet/fonts
	$(PYTHON) -m venv .build || ($(SUDO) apt-get update -qq && $(SUDO) apt-get install -y -qq python3-venv && $(PYTHON) -m venv .build)
	.build/bin/pip --disable-pip-version-check --quiet install --require-hashes -r requirements/build.txt
	.build/bin/python tools/signs.py nailhead/sheet/fonts/signs.json
	.build/bin/python tools/figures.py nailhead/sheet/fonts/other-bold.ttf nailhead/sheet/fonts/figures.ttf
	rm -rf .build
	@touch $@

# The types of the API are made from the application's own OpenAPI document.
$(STAMPS)/front: $(STAMPS)/app $(STAMPS)/npm $(STAMPS)/fonts $(STAMPS)/drawn $(FRONT_SOURCES) $(WEB_SOURCES)
	$(BIN)/nailhead openapi > frontend/openapi.json
	cd frontend && npx --no-install openapi-typescript openapi.json -o src/api/schema.d.ts && npx --no-install vite build --logLevel warn && npx --no-install vite build -c vite.take-home.config.ts --logLevel warn
	@touch $@

clean:
	rm -rf $(VENV) .build $(STAMPS) frontend/node_modules nailhead/web/static nailhead/sheet/fonts
