#!/bin/sh
# Install Debian's Chromium for the browser tests, or say what to install.
[ -x /usr/bin/chromium ] && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null
  exit $?
fi
echo "The browser tests need Debian's Chromium at /usr/bin/chromium. Install it as root: apt-get install chromium" >&2
exit 1
