#!/bin/sh
# The browser of the tests, behind whoever answers it. There are several, each with a session of its own: together they are to have about
# as much as the tests that need none.
exec sh "$(dirname "$0")/polite.sh" 15 "${CHROMIUM:-/usr/bin/chromium-headless-shell}" "$@"
