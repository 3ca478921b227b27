#!/bin/sh
# Every figure palin gives on the demo's meshes and jobs, a file a command: tools/golden.sh PALIN OUT_DIR
# Two such folders compared (diff -r) show what a change moved.
set -eu
palin=$1 out=$2 here=$(cd "$(dirname "$0")/.." && pwd)
mkdir -p "$out"
for mesh in "$here"/demo/meshes/*.stl; do
  name=$(basename "$mesh" .stl)
  "$palin" mesh "$mesh" >"$out/$name-mesh.json"
  "$palin" split "$mesh" >"$out/$name-split.json"
  "$palin" mould "$mesh" --form two-part >"$out/$name-mould.json"
  "$palin" flow "$mesh" --up 0.2,0.1,1 >"$out/$name-flow.json"
done
for form in pieces skin open strip cut putty cup-core; do
  "$palin" mould "$here/demo/meshes/crank_sleeve.stl" --form $form >"$out/sleeve-$form.json" 
done
"$palin" flow "$here/demo/meshes/pen_arm_bracket.stl" --plan >"$out/bracket-plan.json"
demo=$(mktemp -d)
trap 'rm -rf "$demo"' EXIT
"$palin" demo "$demo" >/dev/null
for job in "$demo"/*.palinform; do
  "$palin" job "$job" >"$out/job-$(basename "$job" .palinform).json"
done
