#!/usr/bin/env bash
# npm test: format, lint with types, import rules, Jest with a real database, Playwright in Debian's Chromium.
# Everything runs even if something before it failed; the last line is the count.
source "$(dirname "$0")/ensure.sh"
ensure_for_tests
passed=0
failed=0
check() { # name, command...
  local name=$1
  shift
  say "== $name"
  if "$@"; then passed=$((passed + 1)); else
    failed=$((failed + 1))
    say "FAILED: $name"
  fi
}
# two scripts that use one processor each
both() {
  npm run --silent "$1" &
  local other=$!
  npm run --silent "$2"
  local code=$?
  wait "$other" && return "$code"
}
# adds the counts of a JSON report; a report that is missing or empty counts as one failure
count() { # file, expression giving [passed, failed]
  local counts
  if counts=$(node -e 'const r=JSON.parse(require("fs").readFileSync(process.argv[1],"utf8")); const c=eval(process.argv[2]); if(!(c[0]+c[1]>0)) process.exit(1); console.log(c.join(" "))' "$1" "$2" 2>/dev/null); then
    passed=$((passed + ${counts% *}))
    failed=$((failed + ${counts#* }))
  else failed=$((failed + 1)); fi
}

check format npm run --silent format:check
check 'rules and types' npm run --silent lint
check 'import rules, long functions' both boundaries functions
check 'lock file' node scripts/check-lock.mjs

if [[ -n ${DATABASE_URL:-} ]]; then say "DATABASE_URL is not used by the tests: they have a database of their own."; fi
throwaway_database
TEST_DATABASE_URL=$throwaway_url
export TEST_DATABASE_URL

say "== Jest"
npm run --silent jest -- --json --outputFile="$work/jest.json" >/dev/null || true
count "$work/jest.json" '[r.numPassedTests, r.numFailedTests + r.numRuntimeErrorTestSuites]'

say "== Page"
check build npm run --silent build

say "== Playwright"
PLAYWRIGHT_JSON_OUTPUT_FILE="$work/e2e.json" npm run --silent e2e -- --reporter=list,json || true
count "$work/e2e.json" '[r.stats.expected + r.stats.flaky, r.stats.unexpected]'

echo "$passed passed, $failed failed"
[[ $failed == 0 ]]
