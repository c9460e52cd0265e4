#!/bin/sh
# Chromium without a window, from Debian’s packages, for the tests of the screens and for the pictures:
# it needs a third less of the processor than the one with windows.
set -e
command -v apt-get >/dev/null || { echo "Install Chromium with your system's packages, then run this again." >&2; exit 1; }
sudo=""
[ "$(id -u)" = 0 ] || sudo="sudo"
export DEBIAN_FRONTEND=noninteractive
$sudo apt-get update -qq
$sudo apt-get install -y -qq --no-install-recommends chromium-headless-shell fonts-dejavu-core >/dev/null
