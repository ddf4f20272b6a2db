#!/bin/sh
# The browser tests drive Debian's headless Chromium. Install it where that is allowed.
set -eu
there() { [ -x /usr/bin/chromium-headless-shell ] || [ -x /usr/bin/chromium ]; }
there && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium-headless-shell >/dev/null ||
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null
fi
there || {
  echo "The browser tests need Chromium. On Debian, as root: apt-get install chromium-headless-shell"
  exit 1
}
