import type { Controls } from './controls';
import type { Page } from './page';
import type { Field, Values } from '../description';
import { NAMES } from '../form/file-refs';
import { patch } from '../form/merging';
import { RowButtons } from './rows';
import { search } from './search';
import { options as optionsOf } from '../net/options';
import type { Service } from '../net/service';

/** Equips a page with what only some pages need, and gives the buttons of its rows. */
export function equip(page: Page): { press: (button: HTMLButtonElement) => void } {
  reveal(page.form);
  searches(page);
  const offered = () => depending(page.controls).forEach((name) => offer(page, name));
  page.opened.subscribe(offered);
  offered();
  if (page.service) {
    const offers = new Offers(page, page.service);
    page.opened.subscribe(() => offers.follow());
    offers.follow();
  }
  takeOnClick(page);
  leadOnClick(page.controls);
  if (page.form.querySelector('input[type=file]') && page.service) {
    void import('./files').then(({ Files }) => new Files(page, NAMES));
  }
  const rows = new RowButtons(page);
  page.opened.subscribe(() => rows.follow());
  const drafts =
    page.form.querySelector('[data-keep]') && page.service
      ? import('./drafts').then(({ Drafts }) => new Drafts(page, patch))
      : undefined;
  return {
    press: (button) => {
      if (!rows.press(button)) {
        drafts?.then(
          (it) => it.press(button),
          () => sendPlain(page.form, button),
        );
      }
    },
  };
}

/** Has the service do what a button says, as it does without script. */
function sendPlain(form: HTMLFormElement, { name, value }: HTMLButtonElement): void {
  form.append(Object.assign(document.createElement('input'), { type: 'hidden', name, value }));
  form.submit();
}

/** The buttons of the summary: each keeps what somebody else has saved. */
function takeOnClick({ controls, opened, form }: Page): void {
  const box = controls.summary();
  box?.addEventListener('click', (event) => {
    const button = (event.target as Element).closest('button');
    if (button) {
      const taken = button.value ? opened.keepTheirs(button.value) : opened.takeTheirs();
      void Promise.resolve(taken)
        // What could not be fetched now can be tried again: the button is still there.
        .catch(() => undefined)
        .then(() => {
          // Once nothing is left to choose, sending is what comes next.
          const send = form.querySelector<HTMLElement>('button:not([type=button], [name^=_])');
          (box.hidden ? send : box)?.focus();
        });
    }
  });
}

/** Not every browser moves the focus along with a link inside the page. */
function leadOnClick(controls: Controls): void {
  controls.summary()?.addEventListener('click', (event) => {
    const link = (event.target as Element).closest('a');
    if (link?.hash) {
      event.preventDefault();
      document.getElementById(link.hash.slice(1))?.focus();
    }
  });
}

/** The service gives so many options at once. */
const MOST_OFFERED = 500;

/** True if only the service knows what a field offers. */
const onService = (field: Field | undefined) =>
  Boolean(field?.refersTo ?? field?.onService?.includes('options'));

/** The fields whose options depend on other values, as the page itself can tell. */
function depending(controls: Controls): string[] {
  return controls.names.filter((name) => {
    const { options, where } = controls.field(name)!;
    return options && where !== undefined;
  });
}

/** Options that other values rule out cannot be chosen; one that is chosen already can be left. */
function offer({ controls, opened }: Page, name: string): void {
  const offered = opened.offered(name) ?? [];
  for (const input of controls.inputs(name)) {
    const { options } = (input as HTMLInputElement).list ?? (input as HTMLSelectElement);
    const choices = options ? [...options] : [input];
    for (const choice of choices as (HTMLOptionElement | HTMLInputElement)[]) {
      const chosen = 'selected' in choice ? choice.selected : choice.checked;
      const open = choice.value === '' || chosen || offered.includes(choice.value);
      choice.disabled = !open;
      // A box goes with its label; around a select a label holds them all.
      const seen = input instanceof HTMLSelectElement ? choice : choice.closest('label');
      (seen ?? choice).toggleAttribute('hidden', !open);
    }
  }
}

/** A secret can be looked at before it is sent; without script there is no button for it. */
function reveal(form: HTMLFormElement): void {
  for (const button of form.querySelectorAll<HTMLElement>('[data-reveal]')) {
    const input = button.parentElement!.querySelector('input')!;
    button.hidden = false;
    button.addEventListener('click', () => {
      const hidden = input.type === 'password';
      input.type = hidden ? 'text' : 'password';
      button.ariaPressed = String(hidden);
    });
  }
}

/** Search boxes instead of the selects that stand there without script. */
function searches({ form, description, controls, service, opened, say }: Page): void {
  for (const select of form.querySelectorAll<HTMLSelectElement>('select[data-search]')) {
    const { name, options } = select;
    const path = name.replace(/\[\d+\]/g, '');
    const follow = search(
      select,
      async (words) =>
        onService(controls.field(name)) && service
          ? optionsOf(service, description.form, path, { ...opened.typed(), q: words })
          : [...options]
              .filter((it) => it.value && !it.disabled)
              .filter((it) => it.text.toLowerCase().includes(words.toLowerCase()))
              .map((it) => ({ value: it.value, label: it.text })),
      (count) => say('found', { count }),
    );
    opened.subscribe(follow);
  }
}

/** References whose records depend on other values: the service is asked anew when they change. */
class Offers {
  #asked: string;

  constructor(
    private readonly page: Page,
    private readonly service: Service,
  ) {
    // The page came with the options for the values that it came with.
    this.#asked = JSON.stringify(page.initial);
  }

  follow(): void {
    const values = this.page.opened.typed();
    const key = JSON.stringify(values);
    if (key !== this.#asked) {
      this.#asked = key;
      const { controls } = this.page;
      controls.names
        .filter((name) => {
          const field = controls.field(name);
          return onService(field) && field?.where !== undefined;
        })
        .forEach((name) => void this.#ask(name, key, values));
    }
  }

  async #ask(name: string, key: string, values: Values): Promise<void> {
    const path = name.replace(/\[\d+\]/g, '');
    try {
      const options = await optionsOf(this.service, this.page.description.form, path, values);
      const [select] = this.page.controls.inputs(name);
      if (key !== this.#asked || !(select instanceof HTMLSelectElement)) {
        return;
      }
      const { value } = select;
      const offered = options.some((it) => it.value === value);
      // Of more the service gives only the first; it judges the choice in any case.
      const gone = value && !offered && options.length < MOST_OFFERED;
      const label = select.selectedOptions[0]?.text ?? '';
      select.replaceChildren(
        ...[...select.options].filter(
          (it) => it.value === '' || (it.selected && !offered && !gone),
        ),
        ...options.map((it) => new Option(it.label, it.value)),
      );
      select.value = gone ? '' : value;
      if (gone) {
        this.page.opened.take(name, label);
      }
    } catch {
      // The old options stay; the service judges the choice in any case.
    }
  }
}
