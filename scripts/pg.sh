#!/usr/bin/env bash
# Private PostgreSQL on loopback, from Debian's packages. Works as root and as an ordinary user.
#   scripts/pg.sh start | stop | status | url
# PGROOT: folder that holds data/, password, log. Its parents must be searchable by `postgres` when run as root.
set -euo pipefail

PGBIN=${PGBIN:-$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1)}
[[ -x ${PGBIN:-}/initdb ]] || { echo "pg.sh: no PostgreSQL server: apt-get install postgresql" >&2; exit 1; }
PGROOT=$(realpath -m "${PGROOT:?a folder whose parents the database user can search}")
DATA=$PGROOT/data
DB=${PGDATABASE:-katharos}
DBUSER=${PGUSER:-katharos}
QUIET='-c log_min_error_statement=panic -c log_error_verbosity=terse -c log_statement=none'

# initdb and postgres refuse uid 0: drop to Debian's `postgres` system user then.
if [[ $(id -u) == 0 ]]; then
  as_pg() { (cd / && exec setpriv --reuid=postgres --regid=postgres --init-groups --inh-caps=-all -- env -u PGPORT -u PGHOST -u PGDATABASE -u PGUSER -u PGPASSWORD "$@"); }
else
  as_pg() { (cd / && exec env -u PGPORT -u PGHOST -u PGDATABASE -u PGUSER -u PGPASSWORD "$@"); }
fi

free_port() { node -e 's=require("net").createServer().listen(0,"127.0.0.1",()=>{console.log(String(s.address().port));s.close()})'; }
# `pg_ctl status` only asks kill(pid, 0): it says "running" for a zombie and for a stranger that got the pid.
# Every process of a cluster has the data folder as its working folder, so ask that.
ours() { [[ -n ${1:-} && $(readlink "/proc/$1/cwd" 2>/dev/null) == "$DATA" ]]; }
running() { ours "$(sed -n 1p "$DATA/postmaster.pid" 2>/dev/null)"; }
clear_stale() {                                # after kill -9: let orphaned backends end, then drop the lock file
  [[ -e $DATA/postmaster.pid ]] || return 0
  local p busy i
  for i in $(seq 100); do
    busy=; for p in /proc/[0-9]*; do if ours "${p#/proc/}"; then busy=1; break; fi; done
    [[ -z $busy ]] && { rm -f "$DATA/postmaster.pid"; return 0; }
    sleep 0.1
  done
  echo "pg.sh: processes still use $DATA" >&2; exit 1
}
port() { sed -n 4p "$DATA/postmaster.pid" 2>/dev/null; }          # line 4 of postmaster.pid is the live port
ready() { "$PGBIN/pg_isready" -q -h 127.0.0.1 -p "$(port)" -U "$DBUSER" -d postgres; }
url() { echo "postgres://$DBUSER:$(cat "$PGROOT/password")@127.0.0.1:$(port)/$DB"; }

init() {
  mkdir -p "$PGROOT"; chmod 755 "$PGROOT"
  if [[ ! -s $PGROOT/password ]]; then (umask 077; node -p 'require("crypto").randomBytes(18).toString("hex")' > "$PGROOT/password"); fi
  rm -f "$PGROOT"/pw.*                         # of a start that was killed
  if [[ ! -s $DATA/PG_VERSION ]]; then
    # made beside and renamed when it is whole: a start that is killed in between leaves nothing that looks like a cluster
    local new=$DATA.new
    rm -rf "$DATA" "$new"; mkdir -p "$new"; chmod 700 "$new"
    if [[ $(id -u) == 0 ]]; then chown postgres:postgres "$new"; fi
    # --pwfile=/dev/stdin fails under root: the `postgres` user may not reopen root's file or pipe. Hence a copy it owns.
    local pw; pw=$(mktemp "$PGROOT/pw.XXXXXX"); cat "$PGROOT/password" > "$pw"
    if [[ $(id -u) == 0 ]]; then chown postgres "$pw"; fi
    as_pg "$PGBIN/initdb" -D "$new" -U "$DBUSER" -A scram-sha-256 --pwfile="$pw" \
      -E UTF8 --locale=C.UTF-8 --no-instructions > "$PGROOT/initdb.log" 2>&1 \
      || { cat "$PGROOT/initdb.log" >&2; rm -rf "$new" "$pw"; exit 1; }
    rm -f "$pw"
    cat >> "$new/postgresql.conf" <<'CONF'
listen_addresses = '127.0.0.1'
unix_socket_directories = ''
max_connections = 60
shared_buffers = 64MB
logging_collector = off
CONF
    # Throw-away clusters of tests only: quick, but a power cut loses them. A person's data never runs so.
    if [[ -n ${PG_THROWAWAY:-} ]]; then printf '%s\n' 'fsync = off' 'synchronous_commit = off' 'full_page_writes = off' >> "$new/postgresql.conf"; fi
    mv "$new" "$DATA"
  fi
}

start() {
  init
  if ! running; then
    clear_stale
    local try p
    for try in 1 2 3; do                       # another process may take the port between the look and the bind
      p=${PG_PORT:-$(free_port)}
      # the log is for its owner, and tells what went wrong without the data it went wrong with
      : > "$PGROOT/log"; chmod 600 "$PGROOT/log"; if [[ $(id -u) == 0 ]]; then chown postgres "$PGROOT/log"; fi
      if as_pg "$PGBIN/pg_ctl" -D "$DATA" -l "$PGROOT/log" -o "-p $p $QUIET" -w -t 60 start </dev/null >/dev/null 2>&1; then break; fi
      if [[ $try == 3 ]]; then cat "$PGROOT/log" >&2; exit 1; fi
      sleep 1
    done
  fi
  for _ in $(seq 100); do ready && break; sleep 0.1; done
  ready || { cat "$PGROOT/log" >&2; exit 1; }
  PGPASSWORD=$(cat "$PGROOT/password") "$PGBIN/psql" -qAt -h 127.0.0.1 -p "$(port)" -U "$DBUSER" -d postgres \
    -c "select 1 from pg_database where datname='$DB'" | grep -q 1 ||
    PGPASSWORD=$(cat "$PGROOT/password") "$PGBIN/createdb" -h 127.0.0.1 -p "$(port)" -U "$DBUSER" "$DB"
}

stop() { if running; then as_pg "$PGBIN/pg_ctl" -D "$DATA" -m fast -w -t 60 stop >/dev/null; fi; }

case ${1:-} in
  start) start; url ;;
  stop) stop ;;
  status) if running; then echo "running on $(port), pid $(sed -n 1p "$DATA/postmaster.pid")"; else echo stopped; exit 3; fi ;;
  url) url ;;
  *) echo "usage: pg.sh start|stop|status|url" >&2; exit 2 ;;
esac
