package nodley.core.expression;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * Replaces parts of an expression that the page cannot evaluate, because they read fields that no
 * page has.
 */
final class PageExpression {

  /** Such a field; no list of literals is like it. */
  static final List<Object> KEPT = List.of("kept", 0);

  /** What can be decided though a part of it is open. */
  private static final Set<String> LOGIC = Set.of("and", "or", "not", "if");

  private PageExpression() {}

  /**
   * The tree without what such a field is compared with: all that a page needs of it is that the
   * service decides, and what it reads besides.
   */
  static Object of(Object tree) {
    if (!(tree instanceof List<?> parts) || !readsKept(tree)) {
      return tree;
    }
    List<Object> told = new ArrayList<>();
    if (parts.getFirst() instanceof String what && LOGIC.contains(what)) {
      told.add(what);
      parts.stream().skip(1).map(PageExpression::of).forEach(told::add);
    } else {
      told.add("kept");
      collectReads(tree, told);
    }
    return told;
  }

  private static boolean readsKept(Object tree) {
    return tree instanceof List<?> parts
        && (parts.equals(KEPT) || parts.stream().anyMatch(PageExpression::readsKept));
  }

  private static void collectReads(Object tree, List<Object> reads) {
    if (tree instanceof List<?> parts && !parts.isEmpty()) {
      if (parts.getFirst().equals("get") || parts.getFirst().equals("each")) {
        reads.add(tree);
      } else {
        parts.forEach(part -> collectReads(part, reads));
      }
    }
  }
}
