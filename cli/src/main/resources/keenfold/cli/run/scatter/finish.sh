#!/bin/sh
# Joins all shards and writes the report.
set -eu
cd "$(dirname "$0")"
keenfold=${KEENFOLD:-@PROGRAM@}
rm -f all.kfl
code=0
"$keenfold" merge ledgers/*.kfl -o all.kfl || code=$?
if [ "$code" -eq 4 ]; then
  echo "some fits are missing: run ./slurm.sh or ./loop.sh again, which does what is left" >&2
  exit 4
fi
[ "$code" -eq 0 ] || exit "$code"
"$keenfold" report all.kfl -o report
