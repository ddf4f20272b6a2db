#!/bin/sh
# The browser tests drive Debian's Chromium. Install it where that is allowed.
set -eu
[ -x /usr/bin/chromium ] && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null
fi
[ -x /usr/bin/chromium ] || {
  echo "The browser tests need /usr/bin/chromium. On Debian, as root: apt-get install chromium"
  exit 1
}
