#!/bin/sh
# Hands the array to Slurm, and a last job that waits for it, joins the shards and writes the report.
set -eu
cd "$(dirname "$0")"
array=$(sbatch --parsable "$@" slurm-array.sh)
last=$(sbatch --parsable --dependency="afterany:${array%%;*}" "$@" slurm-finish.sh)
echo "array ${array%%;*} of @SHARDS@ shards, then ${last%%;*}; squeue --me and keenfold scatter --status tell how far they are"
