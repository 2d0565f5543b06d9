#!/usr/bin/env bash
# npm run dev: database, server that restarts on change, page with hot reload.
source "$(dirname "$0")/ensure.sh"
ensure_all
own_database=
finish() {
  trap - INT TERM EXIT
  kill $(jobs -p) 2>/dev/null || true
  wait 2>/dev/null || true
  [[ -z $own_database ]] || { PGROOT=$own_database scripts/pg.sh stop 8>&- || true; rm -f "$own_database/address"; }
}
trap finish INT TERM EXIT
if [[ -z ${DATABASE_URL:-} ]]; then
  root=$(data_root)
  own_data_folder "$root" "http://127.0.0.1:${PORT:-4170}"
  say "Data folder: $root"
  DATABASE_URL=$(PGROOT=$root scripts/pg.sh start 8>&-)
  own_database=$root
fi
export DATABASE_URL DEMO=first CLICK=yes PORT=${PORT:-4170}
# Not through npm or npx: they do not hand a signal on to what they started.
node_modules/.bin/tsx watch server/src/main.ts 8>&- &
(cd web && KATHAROS_API="http://127.0.0.1:$PORT" exec ../node_modules/.bin/vite) 8>&- &
wait
