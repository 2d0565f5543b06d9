#!/usr/bin/env bash
# npm run restore -- FILE: brings back what a backup holds, into an empty place: a new data folder (KATHAROS_DATA), or an empty
# database (DATABASE_URL). What stands there already is never written over. Then npm start, in the same place.
source "$(dirname "$0")/ensure.sh"
ensure_all
file=${1:-}
[[ -f $file ]] || { say "npm run restore -- FILE: there is no file '$file'."; exit 2; }
root=$(firm_root)
umask 077
work=$(mktemp -d "${TMPDIR:-/tmp}/katharos-restore.XXXXXX")
started=
finish() {
  rm -rf "$work"
  [[ -z $started ]] || PGROOT=$root scripts/pg.sh stop 8>&- || true
}
trap finish EXIT
tar -C "$work" -xf "$file" 2>/dev/null && [[ $(cat "$work/what" 2>/dev/null) == 'katharos backup 1' ]] ||
  { say "$file is no backup that this release reads."; exit 2; }
url=${DATABASE_URL:-}
if [[ -z $url ]]; then
  [[ ! -e $root/data ]] || { say "There are data in $root already: KATHAROS_DATA chooses another folder."; exit 2; }
  own_data_folder "$root" "being restored"
  url=$(PGROOT=$root scripts/pg.sh start 8>&-)
  started=1
fi
pgbin=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)
tables=$("$pgbin/psql" "$url" -qAtc "SELECT count(*) FROM pg_tables WHERE schemaname = 'public'")
[[ $tables == 0 ]] || { say "That database is not empty: nothing was written."; exit 2; }
# whole or not at all
"$pgbin/pg_restore" --dbname="$url" --no-owner --no-privileges --single-transaction --exit-on-error "$work/database.dump"
if [[ -d $work/tls && ! -e $root/tls ]]; then
  mkdir -p "$root"
  cp -r "$work/tls" "$root/tls"
fi
[[ -z $started ]] || echo firm >"$root/is-for"
say "Restored into ${DATABASE_URL:+the database}${started:+$root}. npm start goes on from there."
