/** React bindings of the page runtime: a form, its state, and one field of it. */
import {
  open,
  type FieldState,
  type FormState,
  type From,
  type Json,
  type OpenForm,
} from 'nodley-page';
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';

/** A form on its way: opened, or why it could not be. */
export type Opening =
  | { status: 'opening' }
  | { status: 'opened'; opened: OpenForm }
  | { status: 'failed'; failure: unknown };

/**
 * Opens a form for as long as the component is there.
 *
 * @param from what it is opened with, such as the id of the record to edit; what it was at first counts
 */
export function useForm(form: string, from?: From): Opening {
  const [opening, put] = useState<Opening>({ status: 'opening' });
  useEffect(() => {
    let gone = false;
    let mine: OpenForm | undefined;
    open(form, from).then(
      (opened) => {
        mine = opened;
        if (gone) {
          opened.close();
        } else {
          put({ status: 'opened', opened });
        }
      },
      (failure: unknown) => gone || put({ status: 'failed', failure }),
    );
    return () => {
      gone = true;
      mine?.close();
    };
  }, [form]);
  return opening;
}

/** A form that is opened here, from a description that is at hand. */
export function useOpenForm(make: () => OpenForm): OpenForm {
  const opened = useMemo(make, []);
  useEffect(() => () => opened.close(), []);
  return opened;
}

/** The state of an opened form; the component is drawn anew with each. */
export function useFormState(opened: OpenForm): FormState {
  return useSyncExternalStore(opened.subscribe, opened.state);
}

/** One field: its state, and what a control does with it. */
export interface Bound extends FieldState {
  set: (value: Json) => void;
  leave: () => void;
}

/** A field of an opened form; the component is drawn anew only when this field changes. */
export function useField(opened: OpenForm, name: string): Bound {
  const state = useSyncExternalStore(opened.subscribe, () => opened.state().fields[name]);
  return {
    ...(state ?? opened.field(name)),
    set: (value) => opened.set(name, value),
    leave: () => opened.leave(name),
  };
}

/** One row, as it stands on the page. */
export interface BoundRow {
  /** For React's `key`: which kept row it is, else its place. */
  key: string;
  /** The whole name of a field in it: `name('born')` is `crew[0].born`. */
  name: (field: string) => string;
  remove: () => void;
  /** Up by one place; of the first row, nothing happens. */
  raise: () => void;
}

/** Rows of an opened form: what stands on the page, blank ones too, and a way to add one. */
export interface BoundRows extends Bound {
  rows: BoundRow[];
  add: () => void;
}

/** Rows of an opened form; the component is drawn anew when anything in them changes. */
export function useRows(opened: OpenForm, name: string): BoundRows {
  const bound = useField(opened, name);
  const values = Array.isArray(bound.value) ? (bound.value as ({ _row?: number } | null)[]) : [];
  return {
    ...bound,
    add: () => opened.addRow(name),
    rows: values.map((row, index) => ({
      key: row?._row ? `kept ${row._row}` : `new ${index}`,
      name: (field) => `${name}[${index}].${field}`,
      remove: () => opened.removeRow(name, index),
      raise: () => index > 0 && opened.raiseRow(name, index),
    })),
  };
}
