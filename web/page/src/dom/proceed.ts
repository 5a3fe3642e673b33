import type { Accepted } from '../net/service';
import type { OpenForm } from '../form/open-form';
import type { Controls } from './controls';

/** The next page is told so much at most. */
const MOST_LETTERS = 300;
/** If the next page does not come, the form can be sent again after so many milliseconds. */
const LEAVING = 10_000;

/**
 * What follows an acceptance: the page stays, for the next record or because it is somebody else's;
 * or it leads to where the form says.
 *
 * @param say writes a sentence to where the page tells how the form stands
 */
export function proceed(
  controls: Controls,
  opened: OpenForm,
  next: Accepted['after'],
  isElsewhere: boolean,
  say: (words: string) => void,
): void {
  const { form } = controls;
  const { go, say: words } = next;
  const { after, clear = 'all' } = form.dataset;
  // A path leads to a page of the service; from a page of another site it would lead to that site.
  if (after === 'stay' || !go || (!after && isElsewhere && go.startsWith('/'))) {
    if (go && form.dataset.draftOpened !== undefined) {
      tell(words);
      holdUntilLeft(form);
      location.assign(form.action);
      return;
    }
    if (go && form.dataset.mode !== 'edit') {
      opened.clear(clear === 'all' ? undefined : clear.split(' ').filter((it) => it !== 'none'));
      const [first] = controls.names;
      controls.inputs(first!)[0]?.focus();
      form.dataset.fresh = first!;
    }
    form.dataset.said = words;
    say(words);
    return;
  }
  tell(words);
  holdUntilLeft(form);
  const address = after || go;
  const { search } = location;
  location.assign(
    /^\/forms\/[^?#]*$/.test(address) && /[?&]lang=/.test(search) ? address + search : address,
  );
}

/** A second press would ask for the next page anew, and the first has told the outcome by then. */
function holdUntilLeft(form: HTMLFormElement): void {
  const held = new AbortController();
  const { signal } = held;
  const hold = (event: Event) => {
    event.preventDefault();
    event.stopImmediatePropagation();
  };
  form.addEventListener('submit', hold, { capture: true, signal });
  const release = () => held.abort();
  addEventListener('pagehide', release, { signal });
  setTimeout(release, LEAVING);
}

/**
 * Has the next page tell the outcome, as it does after a form sent without script; in a cookie, so
 * that a long one is cut short.
 */
function tell(words: string): void {
  const letters = [...words];
  const short =
    letters.length > MOST_LETTERS ? `${letters.slice(0, MOST_LETTERS).join('')}…` : words;
  document.cookie = `nodley_said=${encodeURIComponent(short)}; path=/forms; max-age=60; samesite=lax`;
}
