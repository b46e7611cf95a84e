#!/usr/bin/env bash
# The tests drive the real interface: headless Chromium from Debian's packages.
set -euo pipefail

as_root() { if [ "$(id -u)" -eq 0 ]; then "$@"; else sudo "$@"; fi; }

command -v chromium >/dev/null && exit 0
as_root apt-get update -qq
as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium
