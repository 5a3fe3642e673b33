import type { Submission } from './submission';
import type { Field, Json, Values } from '../description';
import { extras } from '../extras';
import { isBlank, read } from './value-reader';
import { FieldStates, type FieldState } from './field-states';
import { trim } from './tidy';
import { own } from '../tree';
import { BLANK, members, text, type Value } from './value';

/** First stages: binds what was typed to the fields, and tidies each value. */
export class Binder {
  constructor(private readonly course: Submission) {}

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
      return [field.name, read(untidied, raw, this.course.zone)];
    });
    return Object.fromEntries([...entries, ...rowOf(before)]);
  }

  read(scope: FieldStates, typed: Values): void {
    for (const slot of scope.slots.values()) {
      const raw = own(typed, slot.field.name);
      slot.absent = raw === undefined;
      if (slot.field.type === 'group') {
        this.#readGroup(slot, raw);
      } else if (slot.field.type === 'rows') {
        this.#readRows(slot, raw);
      } else {
        slot.value = this.course.memory.of(`read ${slot.name}`, [raw], () =>
          read(slot.field, raw, this.course.zone),
        );
      }
      if (slot.value.kind === 'unread') {
        this.course.refuse(slot, 'bad-input');
      }
    }
    for (const name of Object.keys(typed)) {
      if (!scope.slots.has(name) && typed[name] !== undefined && !(scope.row && name === '_row')) {
        this.course.unknown.push({
          pointer: `${scope.pointer}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`,
          code: 'unknown-field',
          detail: extras.unknownField(this.course.say, name, [...scope.slots.keys()]),
        });
      }
    }
  }

  #readGroup(slot: FieldState, raw: Json): void {
    if (!isBlank(raw) && (typeof raw !== 'object' || Array.isArray(raw))) {
      slot.value = { kind: 'unread', typed: raw };
      return;
    }
    const kept = slot.kept.kind === 'group' ? slot.kept.values : {};
    const inside = new FieldStates(
      slot.field.fields!,
      slot.pointer,
      slot.scope,
      kept,
      `${slot.name}.`,
    );
    slot.inside = [inside];
    this.read(inside, isBlank(raw) ? {} : (raw as Values));
  }

  /** Rows in which nothing was typed are left out; pointers count them all the same. */
  #readRows(slot: FieldState, raw: Json): void {
    const rows = isBlank(raw) ? [] : raw;
    const isRow = (row: unknown) =>
      row === null || (typeof row === 'object' && !Array.isArray(row));
    if (!Array.isArray(rows) || !rows.every(isRow)) {
      slot.value = { kind: 'unread', typed: raw };
      return;
    }
    slot.sentRows = rows.length;
    const kept = slot.kept.kind === 'rows' ? slot.kept.rows : [];
    const filled = [...(rows as Values[]).entries()].filter(([, row]) => !isEmpty(row));
    const matches = extras.matchRows(
      slot.field,
      filled.map(([, row]) => row),
      kept.map(members),
    );
    for (const [i, [place, row]] of filled.entries()) {
      const scope = new FieldStates(
        slot.field.fields!,
        `${slot.pointer}/${place}`,
        slot.scope,
        kept[matches[i]!] ?? NEW,
        `${slot.name}[${place}].`,
        { place, sent: rowOf(row) },
      );
      slot.inside.push(scope);
      this.read(scope, row);
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
