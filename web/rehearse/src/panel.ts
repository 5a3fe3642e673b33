import type { OpenForm } from 'nodley-page';
import type { Manner } from './network';
import { say } from './words';

/** A form of the page and what is known of it. */
export interface Bound {
  form: HTMLFormElement;
  opened: OpenForm;
}

/** What the panel's controls do. */
export interface Deeds {
  right: () => Promise<string>;
  faults: () => Promise<string[]>;
  wrong: (index: number) => Promise<string>;
  network: (manner: Manner) => void;
  rules: (on: boolean) => void;
  keys: (on: boolean) => Promise<void>;
  last: () => Promise<string[]>;
  twice: () => Promise<string[]>;
}

const MANNERS: Manner[] = ['as-it-is', 'slow', 'lost', 'refusing'];

const OPEN = 'nodley-rehearsal';

/** The panel: closed until it is opened once. */
export class Panel {
  readonly element: HTMLElement;
  readonly #said = make('p', { role: 'status' });

  /**
   * The panel of a form.
   *
   * @param title tells it from those of other forms of the page
   */
  constructor(
    title: string,
    private readonly deeds: Deeds,
  ) {
    this.element = make('aside', { class: 'rehearsal', 'aria-label': title });
    const details = make('details', {});
    details.open = sessionStorage.getItem(OPEN) === 'yes';
    details.addEventListener('toggle', () =>
      sessionStorage.setItem(OPEN, details.open ? 'yes' : 'no'),
    );
    this.element.append(details);
    details.append(
      make('summary', {}, title),
      this.#samples(),
      this.#network(),
      this.#switches(),
      this.#told('last', this.deeds.last),
      this.#told('twice', this.deeds.twice),
      this.#said,
    );
  }

  /** Does something, and says what came of it. */
  async #do(deed: () => Promise<string> | string): Promise<void> {
    try {
      this.#said.textContent = await deed();
    } catch (failure) {
      this.#said.textContent = (failure as Error).message;
    }
  }

  #samples(): HTMLElement {
    const faults = make('select', {});
    const choose = (list: string[]) =>
      faults.replaceChildren(
        new Option(say('wrong'), ''),
        ...list.map((text, index) => new Option(text, String(index))),
      );
    choose([]);
    faults.addEventListener('focus', () => {
      if (faults.options.length < 2) {
        void this.#do(async () => {
          choose(await this.deeds.faults());
          return '';
        });
      }
    });
    faults.addEventListener('change', () => {
      if (faults.value) {
        void this.#do(() => this.deeds.wrong(Number(faults.value)));
      }
    });
    return group(
      button(say('fill-in'), () => this.#do(() => this.deeds.right())),
      labelled(say('fill-in'), faults),
    );
  }

  #network(): HTMLElement {
    const manners = make('select', {});
    manners.append(...MANNERS.map((manner) => new Option(say(manner), manner)));
    manners.addEventListener('change', () => this.deeds.network(manners.value as Manner));
    return group(labelled(say('network'), manners));
  }

  #switches(): HTMLElement {
    return group(
      box(
        say('rules'),
        true,
        (on) => {
          this.deeds.rules(on);
          return on ? '' : say('rules-off');
        },
        (deed) => this.#do(deed),
      ),
      box(
        say('keys'),
        false,
        async (on) => {
          await this.deeds.keys(on);
          return '';
        },
        (deed) => this.#do(deed),
      ),
    );
  }

  /** A button, and lines that tell what came of it. */
  #told(words: 'last' | 'twice', deed: () => Promise<string[]>): HTMLElement {
    const lines = make('pre', { tabindex: '0', 'aria-label': say(words) });
    lines.hidden = true;
    return group(
      button(say(words), () =>
        this.#do(async () => {
          lines.textContent = (await deed()).join('\n');
          lines.hidden = false;
          return '';
        }),
      ),
      lines,
    );
  }
}

function make<K extends keyof HTMLElementTagNameMap>(
  name: K,
  attributes: Record<string, string>,
  text = '',
): HTMLElementTagNameMap[K] {
  const element = document.createElement(name);
  Object.entries(attributes).forEach(([key, value]) => element.setAttribute(key, value));
  element.textContent = text;
  return element;
}

function group(...parts: HTMLElement[]): HTMLElement {
  const element = make('div', {});
  element.append(...parts);
  return element;
}

function button(text: string, press: () => Promise<void>): HTMLElement {
  const element = make('button', { type: 'button' }, text);
  element.addEventListener('click', () => void press());
  return element;
}

function labelled(text: string, control: HTMLElement): HTMLElement {
  const element = make('label', {}, `${text} `);
  element.append(control);
  return element;
}

function box(
  text: string,
  checked: boolean,
  set: (on: boolean) => Promise<string> | string,
  run: (deed: () => Promise<string> | string) => Promise<void>,
): HTMLElement {
  const input = make('input', { type: 'checkbox' });
  input.checked = checked;
  input.addEventListener('change', () => void run(() => set(input.checked)));
  const element = make('label', {});
  element.append(input, ` ${text}`);
  return element;
}
