#!/bin/sh
# Installs Debian's headless Chromium where there is none.
set -e
command -v chromium-headless-shell >/dev/null 2>&1 && exit 0
command -v chromium >/dev/null 2>&1 && exit 0
[ -n "$CHROMIUM" ] && exit 0
echo "Installing Chromium from Debian's packages …"
sudo=""
[ "$(id -u)" = 0 ] || sudo=sudo
$sudo apt-get update -qq
$sudo apt-get install -y -qq --no-install-recommends chromium-headless-shell >/dev/null 2>&1 ||
  $sudo apt-get install -y -qq --no-install-recommends chromium >/dev/null
