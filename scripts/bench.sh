#!/usr/bin/env bash
# npm run bench [-- core|calculators|page]: speed figures on a throw-away database.
source "$(dirname "$0")/ensure.sh"
ensure_all chromium
ensure_page
throwaway_database
BENCH_DATABASE_URL=$throwaway_url node --max-semi-space-size=16 e2e/bench.mjs "$@"
