# warm LOAD...: runs a load for 5 seconds, again and again, until three in a row bring no more than those before them: so long
# the JVM's compilers are at work, which take most of the processor at first. Two minutes at most. Each run begins at another
# number "first"; the caller has a folder "work".
warm() {
  local best=0 rate idle=0
  for _ in $(seq 24); do
    "$@" 5 >"$work/warm" # not in a shell of its own, which would forget what it counts
    first=$((first + 1000000))
    rate=$(cut -d. -f1 "$work/warm")
    if [ "$rate" -gt $((best + best / 50)) ]; then
      best=$rate idle=0
    else
      idle=$((idle + 1))
    fi
    [ $idle -lt 3 ] || break
  done
}
