#!/bin/sh
#SBATCH --job-name=@NAME@
#SBATCH --array=1-@SHARDS@
#SBATCH --ntasks=1
#SBATCH --cpus-per-task=@THREADS@
#SBATCH --mem=@MEGABYTES@M
#SBATCH --time=@MINUTES@
#SBATCH --requeue
#SBATCH --open-mode=append
#SBATCH --output=logs/%a.log
exec ./shard.sh
