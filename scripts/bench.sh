#!/usr/bin/env bash
# npm run bench: speed figures on a throw-away database.
source "$(dirname "$0")/ensure.sh"
ensure_all chromium
ensure_page
work=$(mktemp -d /var/tmp/katharos-bench.XXXXXX)
chmod 755 "$work"
finish() {
  trap - EXIT
  PGROOT=$work/pg scripts/pg.sh stop 2>/dev/null || true
  rm -rf "$work"
}
trap finish EXIT
BENCH_DATABASE_URL=$(PGROOT=$work/pg PG_THROWAWAY=1 scripts/pg.sh start)
export BENCH_DATABASE_URL
node --import tsx e2e/bench.ts
