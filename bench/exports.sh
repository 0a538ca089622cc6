#!/usr/bin/env bash
# Keeps all that the program says of plans that hold every classifier, step, wrapper and scheme, so that code can be moved
# without changing what it does:
#
#   bench/exports.sh DIR [PROGRAM]   writes predictions, folds, scores, fits, contrasts, picks, models, PMML and show into DIR
#   bench/exports.sh --compare OLD NEW   says which of them differ, byte by byte
#
# PROGRAM is what is called, the launcher of this checkout if left out. Seconds are left out, since they differ from run to
# run. Classifier command is not among them: its model is its own program's.
set -eu
here=$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)

if [ "${1:-}" = --compare ]; then
  diff -rq "$2" "$3" && echo "no difference in $(find "$2" -type f | wc -l) files"
  exit
fi

out=${1:?where to}
program=${2:-$here/../keenfold}
mkdir -p "$out"

for section in classifiers wrappers steps splits; do
  while read -r name; do
    case $section in
      classifiers) used="classifier: $name[,}]" ;;
      splits) used="scheme: $name[,}]" ;;
      wrappers) used=", $name: " ;;
      steps) used="prepare: .*[[{ ]$name[]:,].* classifier:" ;;
    esac
    [ "$name" = command ] || grep -qE "$used" "$here"/exports/*.yaml ||
      echo "no plan in bench/exports has $name" >&2
  done < <("$program" catalog "$section" | grep -oE '^[a-z][a-z-]*: ' | tr -d ': ')
done

for plan in "$here"/exports/*.yaml; do
  name=$(basename "$plan" .yaml)
  to=$out/$name
  mkdir -p "$to"
  ledger=$to/ledger.kfl
  rm -f "$ledger"
  "$program" run "$plan" -o "$ledger" --quiet
  for what in predictions folds scores contrasts plan; do
    "$program" export "$ledger" --what "$what" --quiet >"$to/$what.csv"
  done
  # Without the seconds of training and prediction.
  "$program" export "$ledger" --what fits --quiet | sed -E 's/^(([^,]*,){5})[^,]*,[^,]*,/\1/' >"$to/fits.csv"
  "$program" pick "$ledger" --json --quiet | grep -v seconds >"$to/pick.json"
  "$program" contrast "$ledger" --json --quiet >"$to/contrast.json"
  case $name in
    scheme-*) ;;
    *)
      "$program" scores "$ledger" --by column --data "$here/exports" --csv --quiet >"$to/columns.csv" 2>&1 || :
      sed -n 's/^[^,]*,\([^,]*\),1,1,.*/\1/p' "$to/fits.csv" | while read -r candidate; do
        file=${candidate//\//-}
        "$program" train "$ledger" --data "$here/exports" --candidate "$candidate" -o "$to/$file.kfm" --force --quiet \
          >"$to/$file.refused" 2>&1 || continue
        rm "$to/$file.refused"
        "$program" show "$to/$file.kfm" --quiet 2>&1 >"$to/$file.show" | sed "s#$to/##" >>"$to/$file.show"
        "$program" export "$to/$file.kfm" --what pmml --quiet 2>&1 >"$to/$file.pmml" | sed "s#$to/##" >>"$to/$file.pmml"
        gzip -dc "$to/$file.kfm" >"$to/$file.json"
        rm "$to/$file.kfm"
      done
      ;;
  esac
  rm "$ledger"
done
