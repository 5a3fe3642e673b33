import type { Bound } from './panel';

/** What only the service can find: a page cannot know better. */
const ITS_OWN = new Set([
  'taken',
  'held',
  'no-such-record',
  'no-such-upload',
  'ask-refused',
  'ask-unanswered',
]);

interface Refused {
  service: boolean;
  errors: { pointer: string; code: string; detail: string }[];
}

/** Says loudly where the service refuses what the page's own rules let through. */
export function warnOf(event: CustomEvent, opened: Bound['opened']): void {
  const { service, errors } = event.detail as Refused;
  if (!service || !opened.ruled) {
    return;
  }
  for (const { pointer, code, detail } of errors) {
    const field = Object.values(opened.state().fields).find((it) => it.error?.pointer === pointer);
    // What reaches through a record is decided there too.
    const open =
      field?.asked === 'unanswered' ||
      field?.field.refersTo !== undefined ||
      field?.field.onService !== undefined;
    if (!ITS_OWN.has(code) && !open) {
      console.error(
        `Nodley: the page accepted what the service refused. ${pointer}: ${code}, "${detail}".` +
          ' The page and the service must say the same of the same values; please report this.',
      );
    }
  }
}
