#!/usr/bin/env bash
# npm start: the application for a firm. Installs what is missing, builds, starts database and server, and prints the address
# and, the first time, the link that makes the firm's owner. Nothing set, it is reached from the local network over HTTPS by
# a certificate of the firm's own. docs/running.md has every setting.
source "$(dirname "$0")/ensure.sh"
ensure_all
ensure_page
if [[ -n ${PROXY:-} ]]; then
  export HOST=${HOST:-127.0.0.1} PORT=${PORT:-4171}
else
  export HOST=${HOST:-0.0.0.0} PORT=${PORT:-4443} PLAIN_PORT=${PLAIN_PORT:-4480} TLS=${TLS:-own}
fi
source scripts/supervise.sh
root=$(firm_root)
own_database "$root" "${PROXY:-https://$(hostname):$PORT}"
is_for firm
export TLS_FOLDER=${TLS_FOLDER:-$root/tls} LOG_FILE=${LOG_FILE:-$root/logs/katharos.log} LOG=${LOG:-info}
keep_running
