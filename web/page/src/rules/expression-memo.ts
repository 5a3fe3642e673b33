import type { Expression } from '../description';
import { evaluate, Unanswered, type EvaluationContext } from './expression';
import { same, type Value } from './value';

/** One value that an expression has read, and where. */
type Read = readonly ['get' | 'each', number, string[], Value[]];

/**
 * What was worked out for a form before. It holds for as long as what it was worked out from is the
 * same, so that a change on the page works out anew only what it touches.
 */
export class Memory {
  /** How often something was worked out. */
  runs = 0;
  readonly #made = new Map<string, { from: readonly unknown[]; what: unknown }>();
  readonly #evaluated = new Map<
    string,
    { given: string; reads: Read[]; value: Value | Unanswered }
  >();

  /** What `make` makes, once for the same things. */
  of<T>(key: string, from: readonly unknown[], make: () => T): T {
    const before = this.#made.get(key);
    if (before && before.from.every((it, i) => alike(it, from[i]))) {
      return before.what as T;
    }
    this.runs++;
    const what = make();
    this.#made.set(key, { from, what });
    return what;
  }

  /** What an expression comes to; it is run again once a value that it has read is another. */
  evaluate(key: string, tree: Expression, context: EvaluationContext): Value {
    const given = `${context.mode} ${context.today} ${context.now}`;
    const before = this.#evaluated.get(key);
    const holds =
      before?.given === given &&
      before.reads.every(([how, up, path, values]) => {
        const now = how === 'get' ? [context.get(up, path)] : context.each(up, path);
        return now.length === values.length && now.every((it, i) => same(it, values[i]!));
      });
    const value = holds ? before.value : this.#run(key, tree, context, given);
    if (value instanceof Unanswered) {
      throw value;
    }
    return value;
  }

  #run(
    key: string,
    tree: Expression,
    context: EvaluationContext,
    given: string,
  ): Value | Unanswered {
    this.runs++;
    const reads: Read[] = [];
    let value: Value | Unanswered;
    try {
      value = evaluate(tree, {
        ...context,
        get(up, path) {
          const read = context.get(up, path);
          reads.push(['get', up, path, [read]]);
          return read;
        },
        each(up, path) {
          const read = context.each(up, path);
          reads.push(['each', up, path, read]);
          return read;
        },
      });
    } catch (e) {
      if (!(e instanceof Unanswered)) {
        throw e;
      }
      value = e;
    }
    this.#evaluated.set(key, { given, reads, value });
    return value;
  }
}

/** The same thing, or a list of the same. */
function alike(a: unknown, b: unknown): boolean {
  return (
    a === b ||
    (Array.isArray(a) &&
      Array.isArray(b) &&
      a.length === b.length &&
      a.every((it, i) => it === b[i]))
  );
}
