# Two commands matter: `make demo` and `make test`. Both set up all they need on a fresh Debian machine.
PORT ?= 8421
PY := .venv/bin/python

.PHONY: setup setup-tests demo test bench bench-feel fuzz screenshots clean

setup: .venv/.ready

.venv/.ready: requirements.txt requirements-dev.txt pyproject.toml tools/setup.sh
	bash tools/setup.sh

setup-tests: setup
	bash tools/setup-tests.sh

demo: setup
	.venv/bin/kilnmark demo --port $(PORT)

test: setup-tests
	bash tools/test.sh

bench: setup-tests
	$(PY) -m bench

# What a hand waits for on one piece of the demo, in Chromium: make bench-feel, or for more PIECES="quay wear", or
# PIECES=all, which takes half an hour
PIECES ?= tea
bench-feel: setup-tests
	$(PY) -m bench.gestures $(PIECES)

# Random documents and killed servers, for half an hour: make fuzz, or make fuzz MINUTES=5
MINUTES ?= 30
fuzz: setup
	$(PY) -m fuzz $(MINUTES)

screenshots: setup-tests
	$(PY) -m tools.screenshots

clean:
	rm -rf .venv var
