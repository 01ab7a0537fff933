#!/bin/sh
# Starts the browser that sweeps: as a user of its own that holds nothing where there is the right to, within limits, and
# with nothing of our environment. YARE_UID is empty to stay the user one is.
set -eu
browser=$YARE_BROWSER
uid=$YARE_UID
data=$YARE_MOST_DATA
tasks=$YARE_MOST_TASKS
unset YARE_BROWSER YARE_UID YARE_MOST_DATA YARE_MOST_TASKS
if [ -n "$uid" ]; then
  exec setpriv --reuid "$uid" --regid "$uid" --clear-groups --no-new-privs --inh-caps=-all --bounding-set=-all \
    prlimit --core=0 --data="$data" --nproc="$tasks" "$browser" "$@"
fi
exec prlimit --core=0 --data="$data" "$browser" "$@"
