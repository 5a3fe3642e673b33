/**
 * What was typed on a form's page before its reader signed in is there afterwards. It waits in this
 * tab's session storage, without passwords, for an hour at most, and is taken out when it is put
 * back. Where a session has ended meanwhile, a refusal leads to signing in.
 */

/** One control that had another value than the page came with. */
interface Typed {
  name: string;
  value: string;
  /** Of a checkbox or a radio button. */
  checked?: boolean;
  /** The options that were chosen in a select: values and labels. */
  chosen?: [string, string][];
}

type Control = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement;

const HOUR = 3_600_000;

/** Rows are drawn within some frames. */
const MOST_FRAMES = 60;

const place = `nodley typed ${location.pathname}`;
const form = document.querySelector<HTMLFormElement>('form.nodley[data-nodley]');
let leaving = false;

function controls(within: HTMLFormElement): Control[] {
  return [...within.querySelectorAll<Control>('input[name], select[name], textarea[name]')].filter(
    (it) => !it.name.startsWith('_') && !/password|hidden|submit|button|image|file/.test(it.type),
  );
}

/** What differs from the page as it came; of a select, all of it. */
function typed(within: HTMLFormElement): Typed[] {
  const all: Typed[] = [];
  for (const it of controls(within)) {
    const { name, value } = it;
    if (it instanceof HTMLSelectElement) {
      const options = [...it.options];
      if (options.some((option) => option.selected !== option.defaultSelected)) {
        const chosen = [...it.selectedOptions].map((option): [string, string] => [
          option.value,
          option.text,
        ]);
        all.push({ name, value, chosen });
      }
    } else if (it instanceof HTMLInputElement && /checkbox|radio/.test(it.type)) {
      if (it.checked !== it.defaultChecked) {
        all.push({ name, value, checked: it.checked });
      }
    } else if (value !== it.defaultValue) {
      all.push({ name, value });
    }
  }
  return all;
}

function leave(link: HTMLAnchorElement, within: HTMLFormElement): void {
  const values = typed(within);
  link.href = `/sign-in?to=${location.pathname}`;
  if (values.length) {
    sessionStorage.setItem(place, JSON.stringify({ at: Date.now(), values }));
    leaving = true;
  }
}

function find(within: HTMLFormElement, { name, value, checked }: Typed): Control | undefined {
  return controls(within).find(
    (it) => it.name === name && (checked === undefined || it.value === value),
  );
}

/** A row that is not there yet is added, as a person would. */
async function withRow(within: HTMLFormElement, it: Typed): Promise<Control | undefined> {
  const rows = /^(.*)\[\d+\]/.exec(it.name)?.[1];
  const selector = `button[name=_more][value="${CSS.escape(rows ?? '')}"]`;
  const add = rows ? within.querySelector<HTMLButtonElement>(selector) : null;
  if (!add || find(within, it)) {
    return find(within, it);
  }
  add.click();
  for (let frame = 0; frame < MOST_FRAMES && !find(within, it); frame++) {
    await new Promise(requestAnimationFrame);
  }
  return find(within, it);
}

function put(control: Control, { value, checked, chosen }: Typed): void {
  if (checked !== undefined) {
    if ((control as HTMLInputElement).checked !== checked) {
      control.click();
    }
    return;
  }
  if (control instanceof HTMLSelectElement) {
    for (const [each, label] of chosen ?? []) {
      if (![...control.options].some((option) => option.value === each)) {
        control.append(new Option(label, each));
      }
    }
    for (const option of control.options) {
      option.selected = Boolean(chosen?.some(([each]) => each === option.value));
    }
  } else {
    control.value = value;
  }
  for (const kind of ['input', 'change']) {
    control.dispatchEvent(new Event(kind, { bubbles: true }));
  }
}

async function restore(within: HTMLFormElement): Promise<void> {
  const kept = sessionStorage.getItem(place);
  sessionStorage.removeItem(place);
  const { at, values } = JSON.parse(kept ?? '{"at":0,"values":[]}') as {
    at: number;
    values: Typed[];
  };
  if (Date.now() - at > HOUR) {
    return;
  }
  for (const each of values) {
    const control = await withRow(within, each);
    if (control) {
      put(control, each);
    }
  }
  const said = document.querySelector<HTMLElement>('.said');
  if (said && values.length) {
    said.textContent = within.dataset.again ?? '';
    said.hidden = false;
  }
}

/** The session may have ended since the page came. */
async function offerSigningIn(within: HTMLFormElement): Promise<void> {
  const session = await fetch('/api/session').then((reply) => reply.json() as Promise<unknown>);
  const list = within.querySelector('[data-summary] ul');
  const isKnown = (session as { caller?: string | null }).caller;
  if (!isKnown && within.dataset.signIn && list && !list.querySelector('[href^="/sign-in"]')) {
    const item = document.createElement('li');
    const link = document.createElement('a');
    link.href = `/sign-in?to=${location.pathname}`;
    link.textContent = within.dataset.signIn;
    item.append(link);
    list.append(item);
  }
}

if (form) {
  document.addEventListener('click', ({ target }) => {
    const link = (target as Element).closest<HTMLAnchorElement>('a[href^="/sign-in"]');
    if (link) {
      leave(link, form);
    }
  });
  // Nothing is lost, so nobody need be asked.
  const stay = (event: Event) => leaving && event.stopImmediatePropagation();
  window.addEventListener('beforeunload', stay, { capture: true });
  form.addEventListener('nodley:refused', (event) => {
    const { service, errors } = (event as CustomEvent<{ service: boolean; errors: unknown[] }>)
      .detail;
    if (service && !errors.length) {
      offerSigningIn(form).catch(() => undefined);
    }
  });
  const begin = () => form.dataset.bound === 'true' && (restore(form).catch(() => undefined), true);
  if (!begin()) {
    const watch = new MutationObserver(() => begin() && watch.disconnect());
    watch.observe(form, { attributeFilter: ['data-bound'] });
  }
}
