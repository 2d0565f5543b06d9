#!/usr/bin/env bash
# npm test: format, lint with types, import rules and the build beside each other, then Jest with a real database, then Playwright
# in Debian's Chromium.
# Everything runs even if something before it failed; the last line is the count.
source "$(dirname "$0")/ensure.sh"
ensure_for_tests
passed=0
failed=0
names=()
pids=()
# Begins a check beside those begun before; `checked` waits for them all and says of each what it said.
check() { # name, command...
  names+=("$1")
  shift
  "$@" >"$work/check-${#pids[@]}" 2>&1 &
  pids+=($!)
}
checked() {
  local i
  for i in "${!names[@]}"; do
    local end=passed
    wait "${pids[i]}" || end=FAILED
    say "== ${names[i]}: $end"
    cat "$work/check-$i" >&2
    if [[ $end == passed ]]; then passed=$((passed + 1)); else failed=$((failed + 1)); fi
  done
}
# adds the counts of a JSON report; a report that is missing or empty counts as one failure
count() { # file, expression giving [passed, failed]
  local counts
  if counts=$(node -e 'const r=JSON.parse(require("fs").readFileSync(process.argv[1],"utf8")); const c=eval(process.argv[2]); if(!(c[0]+c[1]>0)) process.exit(1); console.log(c.join(" "))' "$1" "$2" 2>/dev/null); then
    passed=$((passed + ${counts% *}))
    failed=$((failed + ${counts#* }))
  else failed=$((failed + 1)); fi
}

throwaway_folder
check 'rules and types' npm run --silent lint
check 'import rules' npm run --silent boundaries
check build npm run --silent build
check format npm run --silent format:check
check 'long functions' npm run --silent functions
check 'lock file' node scripts/check-lock.mjs
if [[ -n ${DATABASE_URL:-} ]]; then say "DATABASE_URL is not used by the tests: they have a database of their own."; fi
throwaway_database
TEST_DATABASE_URL=$throwaway_url
export TEST_DATABASE_URL
checked

say "== Jest"
npm run --silent jest -- --json --outputFile="$work/jest.json" >/dev/null || true
count "$work/jest.json" '[r.numPassedTests, r.numFailedTests + r.numRuntimeErrorTestSuites]'

say "== Playwright"
PLAYWRIGHT_JSON_OUTPUT_FILE="$work/e2e.json" npm run --silent e2e -- --reporter=list,json || true
count "$work/e2e.json" '[r.stats.expected + r.stats.flaky, r.stats.unexpected]'

echo "$passed passed, $failed failed"
[[ $failed == 0 ]]
