#!/usr/bin/env bash
# npm run demo: installs what is missing, builds, starts database and server on 127.0.0.1, loads the demo data on the
# first start. --reload replaces everything stored with fresh demo data. PORT, DATABASE_URL, KATHAROS_DATA are heeded.
# One starter owns the data folder; it brings database and server back when they die, and they end with it.
source "$(dirname "$0")/ensure.sh"
DEMO=first
[[ ${1:-} == --reload ]] && DEMO=reload
ensure_all
ensure_page

# A browser keeps what it has not sent yet by the address: another port is another address.
PORT=${PORT:-4170}
export PORT
child=
own_database=
watchers=()
finish() {
  trap - INT TERM HUP EXIT
  if [[ -n $child ]]; then
    kill -TERM "$child" 2>/dev/null || true
    wait "$child" 2>/dev/null || true
  fi
  if [[ -n $own_database ]]; then
    PGROOT=$own_database scripts/pg.sh stop 8>&- || true
    rm -f "$own_database/address"
  fi
  for w in ${watchers[@]+"${watchers[@]}"}; do kill "$w" 2>/dev/null || true; done
  exit "${1:-0}"
}
trap 'finish 0' INT TERM HUP
trap 'finish $?' EXIT

if [[ -z ${DATABASE_URL:-} ]]; then
  root=$(data_root)
  own_data_folder "$root" "http://127.0.0.1:$PORT"
  say "Data folder: $root"
  DATABASE_URL=$(PGROOT=$root scripts/pg.sh start 8>&-)
  own_database=$root
  # killed outright, this script stops nothing any more: somebody else looks
  setsid bash -c 'while kill -0 "$0" 2>/dev/null; do sleep 1; done; PGROOT=$1 scripts/pg.sh stop' "$$" "$root" 8>&- </dev/null >/dev/null 2>&1 &
  watchers+=($!)
fi
export DATABASE_URL DEMO
export CLICK=yes
# npm does not hand every signal on: where it is gone, this ends too
if [[ -n ${npm_execpath:-} ]]; then
  (while kill -0 "$PPID" 2>/dev/null; do sleep 1; done; kill -TERM "$$" 2>/dev/null) 8>&- &
  watchers+=($!)
fi

start_server() {
  ENDS_WITH_PARENT=1 node server/start.mjs 8>&- &
  child=$!
  began=$SECONDS
}
start_server
deaths=0
while true; do
  sleep 1 8>&- &
  pause=$!
  wait -n "$child" "$pause" || true
  # the database first: a server that finds none ends
  if [[ -n $own_database ]] && ! PGROOT=$own_database scripts/pg.sh status >/dev/null 2>&1 8>&-; then
    say "The database died; it is started again."
    port=${DATABASE_URL##*:}
    PGROOT=$own_database PG_PORT=${port%%/*} scripts/pg.sh start >/dev/null 8>&- || true
  fi
  if ! kill -0 "$child" 2>/dev/null; then
    code=0
    wait "$child" || code=$?
    child=
    # asked to, or for what starting it again does not put right: a port that is taken, a setting that is none
    if ((code == 0 || code == 2)); then finish "$code"; fi
    ((SECONDS - began > 60)) && deaths=0
    deaths=$((deaths + 1))
    if ((deaths > 5)); then
      say "The server died six times in a row: look at what it said above."
      finish 1
    fi
    say "The server died; it is started again."
    DEMO=none start_server
  fi
done
