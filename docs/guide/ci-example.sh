#!/bin/sh
# Runs every project file of a repository through Frelk on a build server. Copy it, set FRELK to where Frelk is checked out, and
# let the build server read results.xml as JUnit XML. Ends with 0 when every check holds, 1 when one fails, 2 when a file is wrong.
set -u
FRELK="${FRELK:-./tools/frelk}"
OUT="${OUT:-build/frelk}"
mkdir -p "$OUT"

# Shards: SHARD=2/4 runs the second quarter on this machine.
set -- --junit "$OUT/results.xml" --markdown "$OUT/summary.md" ${SHARD:+--shard "$SHARD"} "$@"

(cd "$FRELK" && npm ci --silent --no-audit --no-fund) || exit 3
find . -name '*.frelk.json' -not -path '*/node_modules/*' -print0 | sort -z | xargs -0 node "$FRELK/cli/bin/frelk.mjs" check "$@"
code=$?
# xargs folds exit codes of 1 to 125 into 123.
[ "$code" -eq 123 ] && code=1
exit "$code"
