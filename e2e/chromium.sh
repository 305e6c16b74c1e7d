#!/usr/bin/env bash
# Makes sure that Debian's Chromium is there; installs it where apt is at hand.
set -euo pipefail
[ -x /usr/bin/chromium ] && exit 0
if ! command -v apt-get >/dev/null; then
  echo "The browser tests need /usr/bin/chromium; install it and run again." >&2
  exit 1
fi
as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }
as_root apt-get update -qq
as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium
