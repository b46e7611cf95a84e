#!/usr/bin/env bash
# The tests drive the real interface: headless Chromium from Debian's packages, through Playwright.
set -euo pipefail
cd "$(dirname "$0")/.."

as_root() { if [ "$(id -u)" -eq 0 ]; then "$@"; else sudo "$@"; fi; }

wanted=()
command -v chromium-headless-shell >/dev/null || wanted+=(chromium-headless-shell)
command -v pdftoppm >/dev/null || wanted+=(poppler-utils) # a general reader of PDFs, to check ours beside
# Playwright brings its own driver, but not the one library of Debian's that it needs
.venv/lib/python3*/site-packages/playwright/driver/node --version >/dev/null 2>&1 || wanted+=(libatomic1)
[ ${#wanted[@]} -eq 0 ] && exit 0
as_root apt-get update -qq
as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${wanted[@]}"
