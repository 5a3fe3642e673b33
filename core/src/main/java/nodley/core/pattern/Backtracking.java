package nodley.core.pattern;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Deque;
import java.util.List;

/**
 * Whether a matcher that backs up, as those of browsers do, can be held up by a pattern. It can if
 * one text can be read in ever more ways: that grows with its length by a power where loops with a
 * text in common follow each other, and without bound where one loop can be gone through in two
 * ways (Weber and Seidl, "On the degree of ambiguity of finite automata", 1991).
 */
final class Backtracking {

  /** Highest exponent of the polynomial: for 1 000 characters a page is not noticeably slow. */
  private static final int SAFE_POWER = 1;

  /** Limit of the analysis, in steps; beyond, the pattern counts as unsafe. */
  private static final int MOST_STEPS = 3_000_000;

  private final Positions positions;
  private final int[] loopOf;
  private final List<List<Integer>> loops = new ArrayList<>();
  private final BitSet[] reach;
  private int steps;

  private Backtracking(Positions positions) {
    this.positions = positions;
    this.reach = reach(positions);
    this.loopOf = new int[positions.count()];
    Arrays.fill(loopOf, -1);
    for (int p = 0; p < loopOf.length; p++) {
      if (loopOf[p] < 0 && reach[p].get(p)) {
        List<Integer> loop = new ArrayList<>();
        for (int q = p; q < loopOf.length; q++) {
          if (reach[p].get(q) && reach[q].get(p)) {
            loopOf[q] = loops.size();
            loop.add(q);
          }
        }
        loops.add(loop);
      }
    }
  }

  static boolean isSafe(Shape pattern) {
    try {
      var backtracking = new Backtracking(new Positions(pattern));
      return !backtracking.hasLoopInTwoWays() && backtracking.power() <= SAFE_POWER;
    } catch (Positions.TooMany | TooLong e) {
      return false;
    }
  }

  /** It is not known after all the steps that are taken. */
  private static final class TooLong extends RuntimeException {
    private static final long serialVersionUID = 1;
  }

  private void step() {
    if (++steps > MOST_STEPS) {
      throw new TooLong();
    }
  }

  /** What can come after each position, at once or later. */
  private static BitSet[] reach(Positions positions) {
    var reach = new BitSet[positions.count()];
    for (int p = 0; p < reach.length; p++) {
      var found = new BitSet();
      Deque<Integer> next = new ArrayDeque<>(List.of(p));
      while (!next.isEmpty()) {
        BitSet after = positions.after(next.poll());
        for (int q = after.nextSetBit(0); q >= 0; q = after.nextSetBit(q + 1)) {
          if (!found.get(q)) {
            found.set(q);
            next.add(q);
          }
        }
      }
      reach[p] = found;
    }
    return reach;
  }

  /** True if one text leads from a position of a loop back to it in two ways. */
  private boolean hasLoopInTwoWays() {
    for (List<Integer> loop : loops) {
      for (int p : loop) {
        for (int q : loop) {
          if (positions.after(p).get(q) && positions.isTwice(p, q)) {
            return true;
          }
        }
      }
      if (partsAndMeets(loop)) {
        return true;
      }
    }
    return false;
  }

  /** Whether two readers of one text, at one place of a loop, can part and meet again in it. */
  private boolean partsAndMeets(List<Integer> loop) {
    int size = loop.size();
    var parted = new BitSet();
    for (int start = 0; start < size; start++) {
      follow(loop, start * size + start, parted, false);
    }
    var meeting = new BitSet();
    for (int end = 0; end < size; end++) {
      follow(loop, end * size + end, meeting, true);
    }
    parted.and(meeting);
    for (int pair = parted.nextSetBit(0); pair >= 0; pair = parted.nextSetBit(pair + 1)) {
      if (pair / size != pair % size) {
        return true;
      }
    }
    return false;
  }

  /** Adds the pairs that two readers get to from one, or come from. */
  private void follow(List<Integer> loop, int start, BitSet found, boolean back) {
    int size = loop.size();
    if (found.get(start)) {
      return;
    }
    found.set(start);
    Deque<Integer> next = new ArrayDeque<>(List.of(start));
    while (!next.isEmpty()) {
      int pair = next.poll();
      int left = loop.get(pair / size);
      int right = loop.get(pair % size);
      for (int i = 0; i < size; i++) {
        if (!edge(left, loop.get(i), back)) {
          continue;
        }
        for (int j = 0; j < size; j++) {
          step();
          int other = i * size + j;
          boolean goes =
              !found.get(other)
                  && edge(right, loop.get(j), back)
                  && (back
                      ? positions.overlap(left, right)
                      : positions.overlap(loop.get(i), loop.get(j)));
          if (goes) {
            found.set(other);
            next.add(other);
          }
        }
      }
    }
  }

  private boolean edge(int from, int to, boolean back) {
    return back ? positions.after(to).get(from) : positions.after(from).get(to);
  }

  /** By which power of its length a text can be read in more ways. */
  private int power() {
    boolean[][] joined = new boolean[loops.size()][loops.size()];
    for (int from = 0; from < loops.size(); from++) {
      for (int to = 0; to < loops.size(); to++) {
        joined[from][to] = from != to && reaches(from, to) && haveTextInCommon(from, to);
      }
    }
    int[] powers = new int[loops.size()];
    Arrays.fill(powers, -1);
    int power = 0;
    for (int from = 0; from < loops.size(); from++) {
      power = Math.max(power, power(from, joined, powers));
    }
    return power;
  }

  /** The most pairs of loops, one after the other, from a loop on. */
  private int power(int from, boolean[][] joined, int[] powers) {
    if (powers[from] < 0) {
      powers[from] = 0;
      for (int to = 0; to < loops.size(); to++) {
        if (from != to && reaches(from, to)) {
          int more = (joined[from][to] ? 1 : 0) + power(to, joined, powers);
          powers[from] = Math.max(powers[from], more);
        }
      }
    }
    return powers[from];
  }

  private boolean reaches(int from, int to) {
    return reach[loops.get(from).getFirst()].get(loops.get(to).getFirst());
  }

  /** Whether one text stays in a loop, leads from it to another, and stays there. */
  private boolean haveTextInCommon(int from, int to) {
    for (int p : loops.get(from)) {
      for (int q : loops.get(to)) {
        if (hasTextInCommon(p, q)) {
          return true;
        }
      }
    }
    return false;
  }

  /** Three readers of one text: from p to p, from p to q, and from q to q. */
  private boolean hasTextInCommon(int p, int q) {
    int count = positions.count();
    var found = new BitSet();
    Deque<int[]> next = new ArrayDeque<>();
    next.add(new int[] {p, p, q});
    while (!next.isEmpty()) {
      int[] at = next.poll();
      BitSet first = positions.after(at[0]);
      for (int x = first.nextSetBit(0); x >= 0; x = first.nextSetBit(x + 1)) {
        BitSet second = positions.after(at[1]);
        for (int y = second.nextSetBit(0); y >= 0; y = second.nextSetBit(y + 1)) {
          step();
          boolean two =
              loopOf[x] == loopOf[p] && (y == q || reach[y].get(q)) && positions.overlap(x, y);
          BitSet third = positions.after(at[2]);
          for (int z = third.nextSetBit(0); two && z >= 0; z = third.nextSetBit(z + 1)) {
            step();
            int triple = (x * count + y) * count + z;
            boolean goes =
                loopOf[z] == loopOf[q]
                    && !found.get(triple)
                    && positions.overlap(y, z)
                    && positions.overlap(x, z);
            if (goes && x == p && y == q && z == q) {
              return true;
            }
            if (goes) {
              found.set(triple);
              next.add(new int[] {x, y, z});
            }
          }
        }
      }
    }
    return false;
  }
}
