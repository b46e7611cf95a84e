#!/usr/bin/env bash
# Runs the tests from one queue: a worker for each of two processors and one more, since browsers
# wait; each has a server and a browser of its own. What is long by nature (random documents, killed
# servers, the demo, scans of 200 megapixels) comes in a last part. Fails if either part fails.
set -uo pipefail
cd "$(dirname "$0")/.."

run() { .venv/bin/python -m pytest --numprocesses 3 --dist worksteal "$@"; }

run -m "not long" "$@"
most=$?
run -m long "$@"
long=$?
[ "$most" -eq 0 ] && { [ "$long" -eq 0 ] || [ "$long" -eq 5 ]; }
