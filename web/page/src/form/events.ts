import type { Moment } from './state';

/** Dispatches an event of a form; false if a listener prevented what it tells of. */
export type Dispatch = (moment: Moment, detail?: unknown, cancelable?: boolean) => boolean;

/**
 * Dispatches the events of a form: `opened` comes before all others, once.
 *
 * @returns what dispatches `opened` if it is still to come, and what dispatches the others
 */
export function dispatcher(form: EventTarget): [open: () => void, dispatch: Dispatch] {
  let isOpened = false;
  const send: Dispatch = (moment, detail, cancelable = false) =>
    form.dispatchEvent(new CustomEvent(moment, { detail, cancelable }));
  const open = () => {
    if (!isOpened) {
      isOpened = true;
      send('opened', { opened: form });
    }
  };
  return [
    open,
    (...event) => {
      open();
      return send(...event);
    },
  ];
}
