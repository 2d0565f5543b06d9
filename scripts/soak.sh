#!/usr/bin/env bash
# npm run soak: hostile requests, kills and cuts under writes, a browser that is cut off, on a throw-away database.
# SCALE=0.1 does a tenth of it, ONLY=browsers one part.
source "$(dirname "$0")/ensure.sh"
ensure_all chromium
ensure_page
# as a firm's own runs: what was acknowledged before a kill must be there after it
throwaway_database ''
export PGROOT=$work/pg
SOAK_DATABASE_URL=$throwaway_url node --import tsx e2e/soak.ts
