#!/bin/sh
# Runs every project file of a repository through Frelk on a build server. Copy it, set FRELK to where Frelk is checked out, and
# let the build server read results.xml as JUnit XML. Ends with 0 when every check holds, 1 when one fails, 2 when a file is wrong.
set -u
FRELK="${FRELK:-tools/frelk}"
OUT="${OUT:-build/frelk}"
mkdir -p "$OUT"

(cd "$FRELK" && npm ci --silent --no-audit --no-fund) || exit 3

# Shards: SHARD=2/4 runs the second quarter on this machine.
set -- --junit "$OUT/results.xml" --markdown "$OUT/summary.md" ${SHARD:+--shard "$SHARD"} "$@"
find . -name '*.frelk.json' -not -path '*/node_modules/*' -not -path "./${FRELK#./}/*" | sort >"$OUT/files.txt"
while IFS= read -r file; do set -- "$@" "$file"; done <"$OUT/files.txt"
exec node "$FRELK/cli/bin/frelk.mjs" check "$@"
