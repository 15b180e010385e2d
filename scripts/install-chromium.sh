#!/bin/sh
# Debian's Chromium for the browser tests; Playwright's own download is not used.
set -eu
if [ -x /usr/bin/chromium ]; then exit 0; fi
if [ "$(id -u)" = 0 ]; then SUDO=; else SUDO=sudo; fi
$SUDO apt-get update -qq
DEBIAN_FRONTEND=noninteractive $SUDO apt-get install -y -qq chromium >/dev/null
