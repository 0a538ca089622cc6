#!/bin/sh
# Does one of @SHARDS@ shards, the one that the scheduler says (or the first argument). Started again, it goes on.
set -eu
here=$(CDPATH= cd -- "$(dirname "$0")" && pwd)
export KEENFOLD_SHARDS=@SHARDS@ KEENFOLD_JAVA_OPTIONS="${KEENFOLD_JAVA_OPTIONS:--Xmx@HEAP@m}"
keenfold=${KEENFOLD:-@PROGRAM@}
if [ $# -gt 0 ]; then
  number=$1
  share=$1/@SHARDS@
else
  number=${SLURM_ARRAY_TASK_ID:-${PBS_ARRAY_INDEX:-${LSB_JOBINDEX:-${SGE_TASK_ID:-}}}}
  [ -n "$number" ] || number=$((JOB_COMPLETION_INDEX + 1))
  share=from-env
fi
code=0
"$keenfold" run "$here/plan.yaml" --shard "$share" --threads @THREADS@ -o "$here/ledgers/$number.kfl" \
  --status "$here/ledgers/$number.status"@OPTIONS@ || code=$?
# 4: done, but some fits failed, which the ledger tells; for the scheduler the job is done.
[ "$code" -eq 4 ] || exit "$code"
