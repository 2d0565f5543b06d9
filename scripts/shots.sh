#!/usr/bin/env bash
# npm run shots: pictures of the main views from the demo data.
source "$(dirname "$0")/ensure.sh"
ensure_all chromium
ensure_page
throwaway_database
SHOTS_DATABASE_URL=$throwaway_url node --import tsx e2e/shots.ts
