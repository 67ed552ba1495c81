#!/usr/bin/env bash
# Installs from Debian what the tests drive and compare with, where it is missing.
set -eu
missing=()
command -v chromium >/dev/null || missing+=(chromium)
command -v chromedriver >/dev/null || missing+=(chromium-driver)
command -v edid-decode >/dev/null || missing+=(edid-decode)
command -v openssl >/dev/null || missing+=(openssl)
[ ${#missing[@]} -eq 0 ] && exit 0
root=""
[ "$(id -u)" -eq 0 ] || root="sudo"
$root apt-get update -qq
DEBIAN_FRONTEND=noninteractive $root apt-get install -y -qq --no-install-recommends "${missing[@]}"
