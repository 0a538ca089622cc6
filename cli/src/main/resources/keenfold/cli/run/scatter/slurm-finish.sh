#!/bin/sh
#SBATCH --job-name=@NAME@-finish
#SBATCH --ntasks=1
#SBATCH --cpus-per-task=1
#SBATCH --mem=@MEGABYTES@M
#SBATCH --time=120
#SBATCH --requeue
#SBATCH --open-mode=append
#SBATCH --output=logs/finish.log
exec ./finish.sh
