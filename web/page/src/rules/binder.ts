import type { StageContext } from './stage-context';
import type { Field, Json, Values } from '../description';
import { extras } from '../extras';
import { isBlank, read } from './value-reader';
import { FieldStates, type FieldState } from './field-states';
import { trim } from './tidy';
import { own } from '../tree';
import { BLANK, members, text, type Value } from './value';

/** First stages: binds what was typed to the fields, and tidies each value. */
export class Binder {
  constructor(private readonly run: StageContext) {}

  /** What a record keeps, read as its fields' values. */
  kept(fields: Field[], before: Values): Record<string, Value> {
    const entries = fields.map((field): [string, Value] => {
      const raw = own(before, field.name);
      if (field.type === 'group') {
        const values = this.kept(field.fields!, (raw ?? {}) as Values);
        const blank = Object.values(values).every((it) => it.kind === 'blank');
        return [field.name, blank ? BLANK : { kind: 'group', values }];
      }
      if (field.type === 'rows') {
        const rows = ((raw ?? []) as Values[]).map((row) => this.kept(field.fields!, row));
        return [field.name, rows.length ? { kind: 'rows', rows } : BLANK];
      }
      // What is kept was tidied when it came, and stays as it is.
      const { tidy: _, ...untidied } = field;
      return [field.name, read(untidied, raw, this.run.zone)];
    });
    return Object.fromEntries([...entries, ...rowOf(before)]);
  }

  read(siblings: FieldStates, typed: Values): void {
    for (const state of siblings.states.values()) {
      const raw = own(typed, state.field.name);
      state.absent = raw === undefined;
      if (state.field.type === 'group') {
        this.#readGroup(state, raw);
      } else if (state.field.type === 'rows') {
        this.#readRows(state, raw);
      } else {
        state.value = this.run.memory.of(`read ${state.name}`, [raw], () =>
          read(state.field, raw, this.run.zone),
        );
      }
      if (state.value.kind === 'unread') {
        this.run.refuse(state, 'bad-input');
      }
    }
    for (const name of Object.keys(typed)) {
      if (
        !siblings.states.has(name) &&
        typed[name] !== undefined &&
        !(siblings.row && name === '_row')
      ) {
        this.run.unknown.push({
          code: 'unknown-field',
          ...extras.unknownField(this.run.say, siblings.pointer, name, [...siblings.states.keys()]),
        });
      }
    }
  }

  #readGroup(state: FieldState, raw: Json): void {
    if (!isBlank(raw) && (typeof raw !== 'object' || Array.isArray(raw))) {
      state.value = { kind: 'unread', typed: raw };
      return;
    }
    const kept = state.kept.kind === 'group' ? state.kept.values : {};
    const inside = new FieldStates(
      state.field.fields!,
      state.pointer,
      state.siblings,
      kept,
      `${state.name}.`,
    );
    state.inside = [inside];
    this.read(inside, isBlank(raw) ? {} : (raw as Values));
  }

  /** Rows in which nothing was typed are left out; pointers count them all the same. */
  #readRows(state: FieldState, raw: Json): void {
    const rows = isBlank(raw) ? [] : raw;
    const isRow = (row: unknown) =>
      row === null || (typeof row === 'object' && !Array.isArray(row));
    if (!Array.isArray(rows) || !rows.every(isRow)) {
      state.value = { kind: 'unread', typed: raw };
      return;
    }
    state.sentRows = rows.length;
    const kept = state.kept.kind === 'rows' ? state.kept.rows : [];
    const filled = [...(rows as Values[]).entries()].filter(([, row]) => !isEmpty(row));
    const matches = extras.matchRows(
      state.field,
      filled.map(([, row]) => row),
      kept.map(members),
    );
    for (const [i, [place, row]] of filled.entries()) {
      const siblings = new FieldStates(
        state.field.fields!,
        `${state.pointer}/${place}`,
        state.siblings,
        kept[matches[i]!] ?? NEW,
        `${state.name}[${place}].`,
        { place, sent: rowOf(row) },
      );
      state.inside.push(siblings);
      this.read(siblings, row);
    }
  }
}

/** What is kept of a row that is new. */
const NEW = {};

/** Which kept row it is, as a row says it. */
function rowOf({ _row }: Values): [string, Value][] {
  return _row ? [['_row', text(String(_row))]] : [];
}

/** Nothing but white space and empty lists; that a row says which one it is does not fill it. */
function isEmpty(raw: Json): boolean {
  if (typeof raw === 'string') {
    return trim(raw) === '';
  }
  return (
    raw === null ||
    raw === undefined ||
    (typeof raw === 'object' &&
      Object.entries(raw).every(([name, it]) => name === '_row' || isEmpty(it as Json)))
  );
}
