#!/usr/bin/env bash
# npm run backup -- [FILE]: everything of the firm in one file, taken while it goes on working: the database as it stood at one
# moment, and the authority its devices know. DATABASE_URL and KATHAROS_DATA as for npm start; --demo takes the demo's.
source "$(dirname "$0")/ensure.sh"
root=$(firm_root)
if [[ ${1:-} == --demo ]]; then
  root=$(data_root)
  shift
fi
url=${DATABASE_URL:-}
if [[ -z $url ]]; then
  [[ -s $root/password ]] || { say "There are no data in $root: KATHAROS_DATA or DATABASE_URL says where they are."; exit 2; }
  PGROOT=$root scripts/pg.sh status >/dev/null 2>&1 || { say "The database in $root is not running: start it first (npm start)."; exit 2; }
  url=$(PGROOT=$root scripts/pg.sh url)
fi
file=${1:-katharos-$(date +%Y%m%d-%H%M%S).tar}
[[ ! -e $file ]] || { say "$file is there already."; exit 2; }
umask 077
work=$(mktemp -d "$(dirname "$file")/.katharos-backup.XXXXXX")
trap 'rm -rf "$work"' EXIT
pgbin=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)
"$pgbin/pg_dump" --dbname="$url" --format=custom --no-owner --no-privileges --file="$work/database.dump"
[[ ! -d $root/tls ]] || cp -r "$root/tls" "$work/tls"
echo "katharos backup 1" >"$work/what"
tar -C "$work" -cf "$work/whole.tar" what database.dump $(cd "$work" && ls -d tls 2>/dev/null)
# a backup that was killed leaves no file that looks like one
mv "$work/whole.tar" "$file"
say "Everything is in $file. Whoever has it has everything: keep it where only the owner comes."
