#!/usr/bin/env bash
# npm run soak: hostile requests, kills and cuts under writes, on a throw-away database. SCALE=0.1 does a tenth of it.
source "$(dirname "$0")/ensure.sh"
ensure_all
ensure_page
throwaway_database
SOAK_DATABASE_URL=$throwaway_url node --import tsx e2e/soak.ts
