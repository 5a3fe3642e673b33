/** React bindings of the page runtime: a form, its state, and one field of it. */
import {
  open,
  type FieldState,
  type FormState,
  type From,
  type Json,
  type Opened,
} from 'nodley-page';
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';

/** A form on its way: opened, or why it could not be. */
export type Opening =
  | { status: 'opening' }
  | { status: 'opened'; opened: Opened }
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
    let mine: Opened | undefined;
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
export function useOpened(make: () => Opened): Opened {
  const opened = useMemo(make, []);
  useEffect(() => () => opened.close(), []);
  return opened;
}

/** The state of an opened form; the component is drawn anew with each. */
export function useFormState(opened: Opened): FormState {
  return useSyncExternalStore(opened.subscribe, opened.state);
}

/** One field: its state, and what a control does with it. */
export interface Bound extends FieldState {
  set: (value: Json) => void;
  leave: () => void;
}

/** A field of an opened form; the component is drawn anew only when this field changes. */
export function useField(opened: Opened, name: string): Bound {
  const state = useSyncExternalStore(opened.subscribe, () => opened.state().fields[name]);
  return {
    ...(state ?? opened.field(name)),
    set: (value) => opened.set(name, value),
    leave: () => opened.leave(name),
  };
}
