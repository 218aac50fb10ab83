#!/bin/sh
# The browser of the tests, behind whoever answers it.
exec sh "$(dirname "$0")/polite.sh" "${CHROMIUM:-/usr/bin/chromium-headless-shell}" "$@"
