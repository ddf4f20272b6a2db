#!/bin/sh
# Programs that the tests drive, from Debian's packages. Installed where that is allowed.
set -eu
# what has to be there, and in which package it lies
want() {
  for place in $2; do [ -e "$place" ] && return 0; done
  missing="$missing $1"
}
missing=""
want nginx-light "/usr/sbin/nginx"
want postgresql "/usr/lib/postgresql/*/bin/initdb"
[ -x /usr/bin/chromium-headless-shell ] || [ -x /usr/bin/chromium ] ||
  missing="$missing chromium-headless-shell"
[ -n "$missing" ] || exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
  export DEBIAN_FRONTEND=noninteractive
  apt-get update -qq
  for package in $missing; do
    apt-get install -y -qq --no-install-recommends "$package" >/dev/null ||
      { [ "$package" = chromium-headless-shell ] && apt-get install -y -qq chromium >/dev/null; }
  done
  exit 0
fi
echo "The tests need Debian's packages:$missing. As root: apt-get install$missing"
exit 1
