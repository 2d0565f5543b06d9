#!/usr/bin/env bash
# npm run demo: installs what is missing, builds, starts database and server on 127.0.0.1, loads the demo data on the
# first start; people come in by a click on a name. --reload replaces everything stored with fresh demo data. PORT,
# DATABASE_URL, KATHAROS_DATA are heeded.
source "$(dirname "$0")/ensure.sh"
export DEMO=first CLICK=yes
[[ ${1:-} == --reload ]] && DEMO=reload
ensure_all
ensure_page
# A browser keeps what it has not sent yet by the address: another port is another address.
export PORT=${PORT:-4170}
source scripts/supervise.sh
own_database "$(data_root)" "http://127.0.0.1:$PORT"
is_for demo
keep_running
