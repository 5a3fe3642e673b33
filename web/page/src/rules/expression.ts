import type { Big } from 'big.js';
import type { Expression, Json } from '../description';
import { daysBetween, moved } from './dates';
import { length, matches } from './rules';
import { BLANK, bool, compare, number, same, shown, text, type Value } from './value';

/** What an expression may read. */
export interface EvaluationContext {
  get(up: number, path: string[]): Value;
  each(up: number, path: string[]): Value[];
  today: string;
  now: number;
  mode: 'add' | 'edit';
}

/** The expression asks what only the service knows. */
export class Unanswered extends Error {}

const MAX_SLUG = 60;

/** Runs an expression; blank meets blank, as docs/expressions.md says. */
export function evaluate(tree: Expression, context: EvaluationContext): Value {
  if (!Array.isArray(tree)) {
    return literal(tree);
  }
  const [what, ...rest] = tree as [string, ...unknown[]];
  const of = (index: number) => evaluate(rest[index] as Expression, context);
  const all = () => rest.flatMap((it) => many(it as Expression, context));
  switch (what) {
    case 'date':
      return { kind: 'date', date: rest[0] as string };
    case 'today':
      return { kind: 'date', date: context.today };
    case 'now':
      return { kind: 'datetime', ms: context.now };
    case 'mode':
      return text(context.mode);
    case 'caller':
    case 'kept':
      throw new Unanswered();
    case 'through':
      if (of(0).kind === 'blank') {
        return BLANK;
      }
      throw new Unanswered();
    case 'get':
      return context.get(rest[0] as number, rest.slice(1) as string[]);
    case 'not': {
      const it = of(0);
      return it.kind === 'boolean' ? bool(!it.yes) : BLANK;
    }
    case 'minus': {
      const it = of(0);
      return it.kind === 'number' ? number(it.number.neg()) : BLANK;
    }
    case 'and':
    case 'or':
      return kleene(of(0), () => of(1), what === 'or');
    case 'in': {
      const it = of(0);
      const list = rest[1] as Expression[];
      return it.kind === 'blank'
        ? BLANK
        : bool(list.some((item) => same(evaluate(item, context), it)));
    }
    case 'blank':
      return bool(many(rest[0] as Expression, context).every((it) => it.kind === 'blank'));
    case 'if': {
      const condition = of(0);
      return condition.kind === 'boolean' ? of(condition.yes ? 1 : 2) : BLANK;
    }
    case 'matches': {
      const it = of(0);
      if (it.kind !== 'text') {
        return BLANK;
      }
      const matched = matches(rest[1] as string, it.text);
      if (matched === undefined) {
        throw new Unanswered();
      }
      return bool(matched);
    }
    case 'round': {
      const it = of(0);
      return it.kind === 'number' ? number(it.number.round(rest[1] as number, 2)) : BLANK;
    }
    case 'count':
      return number(all().reduce((count, it) => count + counted(it), 0));
    case 'sum':
      return all().reduce(
        (sum, it) =>
          it.kind === 'number' && sum.kind === 'number' ? number(sum.number.plus(it.number)) : sum,
        number(0),
      );
    case 'min':
    case 'max':
      return extreme(all(), what === 'min' ? -1 : 1);
    case 'days': {
      const [from, to] = [of(0), of(1)];
      return from.kind === 'date' && to.kind === 'date'
        ? number(daysBetween(from.date, to.date))
        : BLANK;
    }
    case 'year': {
      const it = of(0);
      return it.kind === 'date' ? number(Number(it.date.slice(0, 4))) : BLANK;
    }
    case 'length':
    case 'lower':
    case 'upper':
    case 'slug': {
      const it = of(0);
      return it.kind === 'text' ? written(what, it.text) : BLANK;
    }
    default:
      return pair(what, of(0), of(1));
  }
}

/** A value as JSON writes it: text, a number, true or false. */
export function literal(value: Json): Value {
  switch (typeof value) {
    case 'boolean':
      return bool(value);
    case 'number':
      return number(value);
    default:
      return typeof value === 'string' ? text(value) : BLANK;
  }
}

/** The values of an argument that may stand for all rows. */
function many(tree: Expression, context: EvaluationContext): Value[] {
  return Array.isArray(tree) && tree[0] === 'each'
    ? context.each(tree[1] as number, tree.slice(2) as string[])
    : [evaluate(tree, context)];
}

/** `and`, or with `decisive` true `or`, in Kleene's three values. */
function kleene(left: Value, right: () => Value, decisive: boolean): Value {
  if (left.kind === 'boolean' && left.yes === decisive) {
    return left;
  }
  const other = right();
  const decides = other.kind === 'boolean' && other.yes === decisive;
  return decides || left.kind !== 'blank' ? other : BLANK;
}

function pair(operator: string, left: Value, right: Value): Value {
  if (left.kind === 'blank' || right.kind === 'blank') {
    return BLANK;
  }
  switch (operator) {
    case 'has':
      return bool(left.kind === 'chosen' && left.options.includes(shown(right)));
    case 'day+':
    case 'day-':
    case 'month+':
    case 'month-':
      return later(left, right, operator);
    case '=':
      return bool(same(left, right));
    case '!=':
      return bool(!same(left, right));
    case '<':
      return bool(compare(left, right) < 0);
    case '<=':
      return bool(compare(left, right) <= 0);
    case '>':
      return bool(compare(left, right) > 0);
    case '>=':
      return bool(compare(left, right) >= 0);
    default:
      return left.kind === 'number' && right.kind === 'number'
        ? arithmetic(operator, left.number, right.number)
        : BLANK;
  }
}

function arithmetic(operator: string, left: Big, right: Big): Value {
  switch (operator) {
    case '+':
      return number(left.plus(right));
    case '-':
      return number(left.minus(right));
    case '*':
      return number(left.times(right));
    default:
      return right.eq(0) ? BLANK : number(left.div(right));
  }
}

function later(from: Value, by: Value, operator: string): Value {
  if (from.kind !== 'date' || by.kind !== 'number' || !by.number.round(0).eq(by.number)) {
    return BLANK;
  }
  const count = +by.number * (operator.endsWith('+') ? 1 : -1);
  const date = operator[0] === 'd' ? moved(from.date, count) : moved(from.date, 0, count);
  return date ? { kind: 'date', date } : BLANK;
}

function counted(value: Value): number {
  switch (value.kind) {
    case 'blank':
      return 0;
    case 'chosen':
      return value.options.length;
    case 'rows':
      return value.rows.length;
    default:
      return 1;
  }
}

function extreme(values: Value[], sign: number): Value {
  return values
    .filter((it) => it.kind !== 'blank')
    .reduce(
      (found, it) => (found.kind === 'blank' || compare(it, found) * sign > 0 ? it : found),
      BLANK,
    );
}

function written(what: string, of: string): Value {
  switch (what) {
    case 'length':
      return number(length(of));
    case 'lower':
      return text(of.toLowerCase());
    case 'upper':
      return text(of.toUpperCase());
    default:
      return text(
        of
          .normalize('NFKD')
          .replace(/\p{M}+/gu, '')
          .toLowerCase()
          .replace(/[^a-z0-9]+/g, '-')
          .replace(/^-/, '')
          .slice(0, MAX_SLUG)
          .replace(/-$/, ''),
      );
  }
}

/** The fields that an expression reads: how many scopes outwards, and their path. */
export function fieldsRead(tree: Expression): [number, ...string[]][] {
  if (!Array.isArray(tree)) {
    return [];
  }
  const [what, ...rest] = tree as unknown[];
  if (what === 'get' || what === 'each') {
    return [rest as [number, ...string[]]];
  }
  // A list of literals may hold the very words that expressions begin with.
  const inner = ['in', 'through', 'matches'].includes(what as string) ? rest.slice(0, 1) : rest;
  return inner.flatMap((it) => fieldsRead(it as Expression));
}
