#!/usr/bin/env bash
# Makes requirements.txt and requirements-dev.txt, with all that is pulled in and the hashes of every
# file, from requirements.in and requirements-dev.in. Needs uv (`pip install uv`), which nothing else
# here does. Run it after a change of an .in file; `--upgrade` takes newer versions of what is pulled in.
set -euo pipefail
cd "$(dirname "$0")/.."

for name in requirements requirements-dev; do
  uv pip compile --quiet --generate-hashes --no-header --annotation-style line --no-emit-index-url \
    --python-version 3.11 --python-platform linux --output-file "$name.txt" "$@" "$name.in"
done
