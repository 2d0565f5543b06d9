# Sourced by the scripts that start the application: database and server are brought back when they die, and end with it.
# own_database FOLDER ADDRESS  one starter owns the data folder; starts its database unless DATABASE_URL names another
# keep_running                 starts the server and stays; never returns
child=
database_folder=
watchers=()
finish() {
  trap - INT TERM HUP EXIT
  if [[ -n $child ]]; then
    kill -TERM "$child" 2>/dev/null || true
    wait "$child" 2>/dev/null || true
  fi
  if [[ -n $database_folder ]]; then
    PGROOT=$database_folder scripts/pg.sh stop 8>&- || true
    rm -f "$database_folder/address"
  fi
  for w in ${watchers[@]+"${watchers[@]}"}; do kill "$w" 2>/dev/null || true; done
  exit "${1:-0}"
}
trap 'finish 0' INT TERM HUP
trap 'finish $?' EXIT

own_database() { # folder, address
  [[ -z ${DATABASE_URL:-} ]] || return 0
  own_data_folder "$1" "$2"
  say "Data folder: $1"
  DATABASE_URL=$(PGROOT=$1 scripts/pg.sh start 8>&-)
  database_folder=$1
  # killed outright, this script stops nothing any more: somebody else looks
  setsid bash -c 'while kill -0 "$0" 2>/dev/null; do sleep 1; done; PGROOT=$1 scripts/pg.sh stop' "$$" "$1" 8>&- </dev/null >/dev/null 2>&1 &
  watchers+=($!)
}

start_server() {
  # left to itself the engine keeps up to 200 MB for what is short-lived, and is no quicker for it
  ENDS_WITH_PARENT=1 node --max-semi-space-size=16 server/start.mjs 8>&- &
  child=$!
  began=$SECONDS
}

keep_running() {
  export DATABASE_URL
  # npm does not hand every signal on: where it is gone, this ends too
  if [[ -n ${npm_execpath:-} ]]; then
    (while kill -0 "$PPID" 2>/dev/null; do sleep 1; done; kill -TERM "$$" 2>/dev/null) 8>&- &
    watchers+=($!)
  fi
  local deaths=0 pause port code
  start_server
  while true; do
    sleep 1 8>&- &
    pause=$!
    wait -n "$child" "$pause" || true
    # the database first: a server that finds none ends
    if [[ -n $database_folder ]] && ! PGROOT=$database_folder scripts/pg.sh status >/dev/null 2>&1 8>&-; then
      say "The database died; it is started again."
      port=${DATABASE_URL##*:}
      PGROOT=$database_folder PG_PORT=${port%%/*} scripts/pg.sh start >/dev/null 8>&- || true
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
      [[ -z ${DEMO:-} ]] || DEMO=none
      start_server
    fi
  done
}
