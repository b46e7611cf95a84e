#!/usr/bin/env bash
# Runs the tests in two halves at once, one for each of the machine's processors: those that drive
# the interface, and all others. Fails if either fails; what both said is shown.
set -uo pipefail
cd "$(dirname "$0")/.."

rest=$(mktemp)
trap 'rm -f "$rest"' EXIT
.venv/bin/python -m pytest --ignore=tests/browser "$@" >"$rest" 2>&1 &
other=$!
.venv/bin/python -m pytest tests/browser "$@"
interface=$?
wait "$other"
others=$?
cat "$rest"
[ "$interface" -eq 0 ] && [ "$others" -eq 0 ]
