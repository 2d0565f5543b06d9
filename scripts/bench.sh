#!/usr/bin/env bash
# npm run bench: speed figures on a throw-away database.
source "$(dirname "$0")/ensure.sh"
ensure_all chromium
ensure_page
throwaway_database
BENCH_DATABASE_URL=$throwaway_url node e2e/bench.mjs
