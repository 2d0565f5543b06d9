#!/usr/bin/env bash
# npm run shots: pictures of the main views from the demo data.
source "$(dirname "$0")/ensure.sh"
ensure_all chromium
ensure_page
work=$(mktemp -d /var/tmp/katharos-shots.XXXXXX)
chmod 755 "$work"
finish() {
  trap - EXIT
  PGROOT=$work/pg scripts/pg.sh stop 2>/dev/null || true
  rm -rf "$work"
}
trap finish EXIT
SHOTS_DATABASE_URL=$(PGROOT=$work/pg PG_THROWAWAY=1 scripts/pg.sh start)
export SHOTS_DATABASE_URL
node --import tsx e2e/shots.ts
