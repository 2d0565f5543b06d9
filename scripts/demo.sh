#!/usr/bin/env bash
# npm run demo: installs what is missing, builds, starts database and server on 127.0.0.1, loads the demo data on the
# first start. --reload replaces everything stored with fresh demo data. PORT, DATABASE_URL, KATHAROS_DATA are heeded.
source "$(dirname "$0")/ensure.sh"
DEMO=first
[[ ${1:-} == --reload ]] && DEMO=reload
ensure_all
ensure_page

child=
own_database=
finish() {
  trap - INT TERM EXIT
  if [[ -n $child ]]; then
    kill -TERM "$child" 2>/dev/null || true
    wait "$child" 2>/dev/null || true
  fi
  if [[ -n $own_database ]]; then PGROOT=$own_database scripts/pg.sh stop || true; fi
  exit "${1:-0}"
}
trap 'finish 0' INT TERM
trap 'finish $?' EXIT

if [[ -z ${DATABASE_URL:-} ]]; then
  root=$(data_root)
  say "Data folder: $root"
  DATABASE_URL=$(PGROOT=$root scripts/pg.sh start)
  own_database=$root
fi
export DATABASE_URL DEMO
if [[ -z ${PORT:-} ]]; then
  PORT=$(node -e '
    const net = require("net");
    const look = (p) => { const s = net.createServer().once("error", () => look(p + 1)).listen(p, "127.0.0.1", () => { s.close(() => console.log(p)); }); };
    look(4170);')
fi
export PORT
node server/start.mjs &
child=$!
code=0
wait "$child" || code=$?
child=
finish "$code"
