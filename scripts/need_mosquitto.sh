#!/bin/sh
# Install Debian's mosquitto for the tests over MQTT where that can be; without it they skip and say so.
command -v mosquitto >/dev/null 2>&1 || [ -x /usr/sbin/mosquitto ] && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq mosquitto >/dev/null 2>&1 && exit 0
fi
echo "No mosquitto: the tests over MQTT are skipped. Install it as root: apt-get install mosquitto" >&2
exit 0
