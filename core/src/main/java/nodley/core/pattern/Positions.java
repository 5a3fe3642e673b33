package nodley.core.pattern;

import com.ibm.icu.text.UnicodeSet;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/**
 * The position automaton of a pattern (Glushkov): a state for each character that the pattern
 * writes, and an edge where one can follow another. Edges that are there in two ways are marked: a
 * search that backs up goes both of them.
 */
final class Positions {

  /** A bounded repeat up to this count is expanded; beyond, it is treated as unbounded. */
  private static final int WRITTEN_OUT = 5;

  /** A pattern with more is not looked into. */
  private static final int MOST = 500;

  private final List<UnicodeSet> characters = new ArrayList<>();
  private final List<BitSet> follow = new ArrayList<>();
  private final List<BitSet> twice = new ArrayList<>();
  private final List<BitSet> compared = new ArrayList<>();
  private final List<BitSet> overlapping = new ArrayList<>();

  /** The pattern has more positions than are looked into. */
  static final class TooMany extends Exception {
    private static final long serialVersionUID = 1;
  }

  /** Where a part can begin and end, and whether it can be empty. */
  private record Ends(BitSet first, BitSet last, boolean empty) {}

  /**
   * Of a pattern.
   *
   * @throws TooMany if it has too many positions
   */
  Positions(Shape shape) throws TooMany {
    ends(shape);
  }

  int count() {
    return characters.size();
  }

  /** What can come after a position. */
  BitSet after(int position) {
    return follow.get(position);
  }

  /** True if a position comes after another in two ways. */
  boolean isTwice(int from, int to) {
    return twice.get(from).get(to);
  }

  /** True if one and the same character can stand at both. */
  boolean overlap(int one, int other) {
    if (!compared.get(one).get(other)) {
      compared.get(one).set(other);
      overlapping.get(one).set(other, characters.get(one).containsSome(characters.get(other)));
    }
    return overlapping.get(one).get(other);
  }

  private Ends ends(Shape shape) throws TooMany {
    return switch (shape) {
      case Shape.One(UnicodeSet of) -> one(of);
      case Shape.All(List<Shape> parts) -> {
        Ends whole = nothing();
        for (Shape part : parts) {
          whole = then(whole, ends(part));
        }
        yield whole;
      }
      case Shape.Either(List<Shape> parts) -> {
        Ends whole = new Ends(new BitSet(), new BitSet(), false);
        for (Shape part : parts) {
          whole = either(whole, ends(part));
        }
        yield whole;
      }
      case Shape.Repeat(Shape part, int min, int max) -> repeat(part, min, max);
    };
  }

  private Ends repeat(Shape part, int min, int max) throws TooMany {
    Ends whole = nothing();
    boolean endless = max != min && max >= WRITTEN_OUT;
    int before = endless ? Math.max(0, min - 1) : min;
    for (int i = 0; i < before; i++) {
      whole = then(whole, ends(part));
    }
    if (endless) {
      Ends loop = ends(part);
      join(loop.last(), loop.first());
      return then(whole, new Ends(loop.first(), loop.last(), min == 0 || loop.empty()));
    }
    // x{1,3} is x(x(x)?)?, in which nothing can be read in two ways.
    Ends rest = nothing();
    for (int i = min; i < max; i++) {
      Ends once = then(ends(part), rest);
      rest = new Ends(once.first(), once.last(), true);
    }
    return then(whole, rest);
  }

  private Ends one(UnicodeSet of) throws TooMany {
    if (characters.size() == MOST) {
      throw new TooMany();
    }
    var here = new BitSet();
    here.set(characters.size());
    characters.add(of);
    follow.add(new BitSet());
    twice.add(new BitSet());
    compared.add(new BitSet());
    overlapping.add(new BitSet());
    return new Ends(here, here, false);
  }

  private static Ends nothing() {
    return new Ends(new BitSet(), new BitSet(), true);
  }

  private Ends then(Ends left, Ends right) {
    join(left.last(), right.first());
    return new Ends(
        left.empty() ? both(left.first(), right.first()) : left.first(),
        right.empty() ? both(left.last(), right.last()) : right.last(),
        left.empty() && right.empty());
  }

  private static Ends either(Ends left, Ends right) {
    return new Ends(
        both(left.first(), right.first()),
        both(left.last(), right.last()),
        left.empty() || right.empty());
  }

  private static BitSet both(BitSet one, BitSet other) {
    var both = (BitSet) one.clone();
    both.or(other);
    return both;
  }

  private void join(BitSet from, BitSet to) {
    for (int at = from.nextSetBit(0); at >= 0; at = from.nextSetBit(at + 1)) {
      var again = (BitSet) to.clone();
      again.and(follow.get(at));
      twice.get(at).or(again);
      follow.get(at).or(to);
    }
  }
}
