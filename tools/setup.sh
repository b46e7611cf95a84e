#!/usr/bin/env bash
# Makes .venv with every dependency at its pinned version, and compiles the kernels.
set -euo pipefail
cd "$(dirname "$0")/.."

as_root() { if [ "$(id -u)" -eq 0 ]; then "$@"; else sudo "$@"; fi; }

python=$(command -v python3.11 || command -v python3 || true)
if [ -z "$python" ] || ! "$python" -c 'import venv, ensurepip' 2>/dev/null; then
  echo "Installing Python 3.11 and its venv module from Debian's packages"
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends python3 python3-venv
  python=$(command -v python3.11 || command -v python3)
fi

# puts the scripts of a page into one file; without it they are loaded one by one
if ! command -v esbuild >/dev/null; then
  as_root apt-get update -qq && as_root env DEBIAN_FRONTEND=noninteractive \
    apt-get install -y -qq --no-install-recommends esbuild || echo "Going on without esbuild"
fi

[ -x .venv/bin/python ] || "$python" -m venv .venv
.venv/bin/python -m pip install --quiet --disable-pip-version-check -r requirements-dev.txt
.venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps -e .
echo "Compiling the kernels (once, about a minute)"
.venv/bin/kilnmark compile
touch .venv/.ready
