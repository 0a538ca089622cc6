#!/usr/bin/env bash
# Remakes docs/screenshots from the demo data: each command in a terminal window under Xvfb.
# Needs Debian's xvfb, xterm, imagemagick, fonts-dejavu-core and chromium. Usage: docs/screenshots.sh [NAME...]
set -eu
root=$(cd "$(dirname "$0")/.." && pwd)
shots=$root/docs/screenshots
work=$(mktemp -d)
display=:97
Xvfb $display -screen 0 1280x800x24 >/dev/null 2>&1 &
server=$!
trap 'kill $server 2>/dev/null; rm -rf "$work"' EXIT
sleep 1
"$root/keenfold" --version >/dev/null
export PATH=$root:$PATH LC_ALL=C.UTF-8

# shot NAME COMMANDS: runs them, one a line, in a terminal of 102 columns and takes the picture when the last one has ended.
shot() {
  local name=$1 command=$2
  if [ -n "$wanted" ] && [[ " $wanted " != *" $name "* ]]; then return; fi
  rm -f "$work/done"
  echo "cd '$work'; clear" > "$work/show.sh"
  local before=''
  while IFS= read -r line; do
    printf "%secho '\$ %s'; %s\n" "$before" "$line" "$line" >> "$work/show.sh"
    before='echo; '
  done <<< "$command"
  echo "touch '$work/done'; sleep 30" >> "$work/show.sh"
  DISPLAY=$display xterm -geometry 102x${3:-48}+0+0 -fa 'DejaVu Sans Mono' -fs 9 -bg white -fg '#222222' +sb \
    -e bash "$work/show.sh" &
  local terminal=$!
  for _ in $(seq 2400); do [ -f "$work/done" ] && break; sleep 0.1; done
  sleep 0.5
  DISPLAY=$display import -window root "$work/$name.png"
  # Some versions write one picture per visual: the first is enough.
  [ -f "$work/$name.png" ] || mv "$work/$name-0.png" "$work/$name.png"
  mogrify -trim +repage -bordercolor white -border 8 "$work/$name.png"
  mv "$work/$name.png" "$shots/$name.png"
  kill $terminal 2>/dev/null || true
  wait $terminal 2>/dev/null || true
}

wanted=$*
mkdir -p "$shots"
cp "$root"/demo/*.csv "$root"/demo/demo.yaml "$work"
(cd "$work" && keenfold demo show --quiet >/dev/null)
shot survey 'keenfold survey hives.csv --target wintered --quiet' 56
if [ -z "$wanted" ] || [[ " $wanted " == *" survey-page "* ]]; then
  (cd "$work" && keenfold survey hives.csv --target wintered --page hives.html --quiet >/dev/null)
  chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,960 \
    --screenshot="$shots/survey-page.png" "file://$work/hives.html" >/dev/null 2>&1
fi
shot catalog 'keenfold catalog svm; keenfold catalog network' 48
shot draft 'keenfold draft hives.csv --target wintered'
(cd "$work" && keenfold draft hives.csv --target wintered -o hives.yaml --quiet)
shot folds 'keenfold folds hives.yaml'
shot compare 'keenfold compare hives.csv --target wintered --positive no --groups apiary'
(cd "$work" && keenfold compare hives.csv --target wintered --positive no --groups apiary --leave-out inspected --seed 7 --quiet \
  --try 'logistic strength=1,30,300' --try 'nearest neighbours=9,27' --try 'forest trees=100' --try majority -o few.kfl >/dev/null)
shot scores 'keenfold scores few.kfl --metric auc --metric log-loss'
shot contrast 'keenfold contrast few.kfl'
shot thresholds 'keenfold scores few.kfl --thresholds --where "specificity>=0.8" --quiet
keenfold scores few.kfl --rows 8 --neighbours 2 --quiet'
cat > "$work/hold.yaml" <<'Y'
keenfold: 1
data: [{file: hives.csv, target: wintered, positive: no, groups: apiary, leave-out: [hive_id, inspected]}]
holdout: {share: 0.2}
splits: {folds: 10, repeats: 3}
seed: 7
metrics: [auc, accuracy, log-loss]
candidates:
  majority: {classifier: majority}
  logistic: {classifier: logistic, strength: {vary: [1, 30, 300]}}
  tree: {classifier: tree, depth: {choose: [2, 4, 6]}}
Y
(cd "$work" && keenfold run hold.yaml -o hold.kfl --quiet)
shot train 'keenfold train hold.kfl -o pick.kfm; keenfold predict pick.kfm new-hives.csv | head -8' 48
(cd "$work" && sed 's/seed: 7/seed: 7\nnote: what last year said/; s/ leave-out: \[/&altitude_m, /' hold.yaml > last.yaml \
  && keenfold run last.yaml -o last.kfl --quiet \
  && sed 's/repeats: 3/repeats: 4/; s/\[2, 4, 6\]/[3, 5]/; /^  majority/d' hold.yaml > later.yaml \
  && sed -i '$ a \  boosting: {classifier: boosting, rounds: 40, depth: 2}' later.yaml)
shot history 'keenfold run later.yaml -o hold.kfl
keenfold note hold.kfl "The reviewer asked for boosting."
keenfold history hold.kfl
keenfold versus hold.kfl last.kfl' 62
(cd "$work" && keenfold train hold.kfl --candidate tree -o tree.kfm --quiet >/dev/null)
shot show 'keenfold show tree.kfm' 56
if [ -z "$wanted" ] || [[ " $wanted " == *" figure-tree "* ]]; then
  (cd "$work" && keenfold show tree.kfm --figure "$shots/figure-tree.png" --force --quiet)
fi
shot scatter 'keenfold scatter demo.yaml --shards 4 -o spread
spread/shard.sh 1; spread/shard.sh 3
keenfold scatter --status spread
keenfold merge spread/ledgers/*.kfl -o some.kfl' 48
shot pick 'keenfold pick few.kfl' 62
shot draw 'keenfold draw few.kfl --figure means; keenfold draw few.kfl --figure roc --candidate forest --candidate nearest/9 --quiet' 72
if [ -z "$wanted" ] || [[ " $wanted " == *" report "* ]]; then
  chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,1500 \
    --screenshot="$shots/report.png" "file://$work/show/report/report.html" >/dev/null 2>&1
fi
for figure in roc; do
  if [ -z "$wanted" ] || [[ " $wanted " == *" figure-$figure "* ]]; then
    (cd "$work" && keenfold draw show/demo.kfl --figure $figure -o "$shots/figure-$figure.png" --force --quiet)
  fi
done
shot demo 'rm -rf d; keenfold demo d --quiet | head -44'
