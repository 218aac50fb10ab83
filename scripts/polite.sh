#!/bin/sh
# polite.sh LEVEL COMMAND …: runs a command behind others, at a level from 1 (little) to 19 (most). What is timed of a server is not late
# because something else computes. Where the kernel shares by session, and this is one of its own, it is the session that has to stand back.
level=$1
shift
{ echo "$level" > /proc/self/autogroup; } 2> /dev/null
exec nice -n "$level" "$@"
