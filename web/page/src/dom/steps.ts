import type { OpenForm } from '../form/open-form';
import type { Page } from './page';

const OVERVIEW = 'overview';

/** A step waits so many milliseconds for what the service has been asked of its fields. */
const PATIENCE = 5000;

/** What keeps a form that is filled in step by step. */
export interface Keeping {
  /** The id of the draft; empty as long as there is none. */
  readonly id: string;
  /** The page is the form's own, so that its address tells the draft and the step. */
  readonly isOwn: boolean;
  /** Keeps what is typed; false if that is not possible now. */
  keep(always: boolean, step: string): Promise<boolean>;
  /** The address of the page, at a step. */
  address(step: string): string;
}

/** The steps of a form: one is shown at a time, and judged when it is left for the next one. */
export class Steps {
  readonly #page: Page;
  readonly #drafts: Keeping;
  /** What the page is called without its steps. */
  readonly #title = document.querySelector('main h1')?.textContent ?? document.title;
  /** The steps as they are listed now, and the one that is open. */
  #drawn = '';
  #isGoing = false;

  constructor(page: Page, drafts: Keeping) {
    this.#page = page;
    this.#drafts = drafts;
    const { form, opened, controls } = page;
    opened.subscribe(() => this.#follow());
    this.#follow();
    addEventListener('popstate', () => {
      if (!drafts.isOwn) {
        return;
      }
      const step = new URL(location.href).searchParams.get('step') ?? this.#shown()[0]!;
      void this.#show(this.#shown().includes(step) ? step : this.#shown()[0]!);
    });
    // An error of another step leads there, before the focus goes to its field.
    form.addEventListener('nodley:refused', () => {
      const first = opened.wrong().find((name) => controls.inputs(name).length > 0);
      if (first) {
        this.#visit(this.#stepOf(first));
      }
    });
    controls.summary()?.addEventListener(
      'click',
      (event) => {
        const link = (event.target as Element).closest('a');
        const target = link?.hash && document.getElementById(link.hash.slice(1));
        const step = target && target.closest<HTMLElement>('[data-step]');
        if (step && step !== form) {
          this.#visit(step.dataset.step!);
        }
      },
      { capture: true },
    );
    form.addEventListener('nodley:accepted', () => {
      // Where the page stays, the next record begins with the first step.
      if (form.dataset.after === 'stay') {
        setTimeout(() => this.#visit(this.#shown()[0]!));
      }
    });
    form.querySelector('[data-overview]')!.addEventListener('click', (event) => {
      const link = (event.target as Element).closest<HTMLAnchorElement>('h2 a');
      const step = link && new URL(link.href).searchParams.get('step');
      if (step) {
        event.preventDefault();
        this.#visit(step);
      }
    });
  }

  get #open(): string {
    return this.#page.form.dataset.step!;
  }

  #boxes(): HTMLElement[] {
    return [...this.#page.form.querySelectorAll<HTMLElement>('div[data-step]')];
  }

  #stepOf(name: string): string {
    const { controls } = this.#page;
    return controls.inputs(name)[0]?.closest<HTMLElement>('div[data-step]')?.dataset.step ?? '';
  }

  /** The names of the fields of a step that are shown. */
  #names(step: string): string[] {
    const { controls, opened } = this.#page;
    const { fields } = opened.state();
    return controls.names.filter((name) => this.#stepOf(name) === step && !fields[name]?.hidden);
  }

  /** The steps that have something to fill in, and the overview. */
  #shown(): string[] {
    const { description, opened } = this.#page;
    const { fields } = opened.state();
    const isSecret = (name: string) =>
      description.fields.find((it) => it.name === name)?.type === 'secret';
    const steps = description
      .steps!.filter((step) => step.fields.some((it) => !fields[it]?.hidden && !isSecret(it)))
      .map((step) => step.name);
    return [...steps, OVERVIEW];
  }

  press(button: HTMLButtonElement): void {
    if (this.#isGoing) {
      return;
    }
    this.#isGoing = true;
    void (button.name === '_next' ? this.#next() : this.#go(button.value)).finally(
      () => (this.#isGoing = false),
    );
  }

  /** Judges the step that is open, here and by the service, and leads to the next one. */
  async #next(): Promise<void> {
    const { opened, controls, form, service, description } = this.#page;
    const names = this.#names(this.#open);
    opened.leaveAll(names);
    const isWrong = () => opened.wrong().find((name) => names.includes(name));
    if (!isWrong()) {
      await settled(opened, names);
    }
    if (!isWrong()) {
      const tops = [...new Set(names.map((name) => name.split(/[.[]/)[0]!))];
      try {
        const { errors } = await service!.check(
          description.form,
          tops.join(','),
          opened.typed(),
          form.dataset.record,
          new AbortController().signal,
        );
        opened.tell(errors);
      } catch {
        // The service cannot be reached, or is asked too often: it judges all of it in the end.
      }
    }
    const wrong = isWrong();
    if (wrong) {
      controls.inputs(wrong)[0]?.focus();
      return;
    }
    const shown = this.#shown();
    const all = description.steps!.map((it) => it.name);
    const after = all.slice(all.indexOf(this.#open) + 1).find((it) => shown.includes(it));
    await this.#go(after ?? OVERVIEW);
  }

  async #go(step: string): Promise<void> {
    // The overview shows what is kept.
    const isKept = await this.#drafts.keep(step === OVERVIEW || Boolean(this.#drafts.id), step);
    if (step === OVERVIEW && !isKept) {
      return;
    }
    this.#visit(step);
  }

  #visit(step: string): void {
    if (step && step !== this.#open) {
      if (this.#drafts.isOwn) {
        history.pushState(null, '', this.#drafts.address(step));
      }
      void this.#show(step);
    }
  }

  async #show(step: string): Promise<void> {
    const { form } = this.#page;
    form.dataset.step = step;
    form.querySelector<HTMLInputElement>('[name=_step]')!.value = step;
    this.#follow();
    const heading = form.querySelector<HTMLElement>(`div[data-step='${step}'] h2`);
    if (step === OVERVIEW) {
      await this.#overview();
    }
    const place = step === OVERVIEW ? form.querySelector<HTMLElement>('[data-overview]') : heading;
    place?.focus({ preventScroll: true });
    (form.querySelector('.steps') ?? form).scrollIntoView({ block: 'nearest' });
  }

  /** The overview is the service's: it knows what each value is called. */
  async #overview(): Promise<void> {
    const { form, service } = this.#page;
    const token = await service!.token?.();
    const place = form.querySelector('[data-overview]')!;
    try {
      const response = await fetch(this.#drafts.address(OVERVIEW), {
        headers: { Accept: 'text/html', ...(token && { Authorization: `Bearer ${token}` }) },
      });
      const page = new DOMParser().parseFromString(await response.text(), 'text/html');
      const fresh = page.querySelector('[data-overview]');
      if (response.ok && fresh) {
        place.replaceChildren(...[...fresh.children].map((it) => document.adoptNode(it)));
      }
    } catch {
      // The service cannot be reached: what stands there is of the last time.
    }
  }

  /** Shows the step that is open, and lists those that there are just now. */
  #follow(): void {
    const { form, say } = this.#page;
    const open = this.#open;
    const shown = this.#shown();
    const drawn = [open, ...shown].join();
    if (drawn === this.#drawn) {
      return;
    }
    this.#drawn = drawn;
    const isOverview = open === OVERVIEW;
    for (const box of this.#boxes()) {
      box.hidden = box.dataset.step !== open;
    }
    for (const item of form.querySelectorAll<HTMLElement>('[data-step-of]')) {
      const step = item.dataset.stepOf!;
      item.hidden = !shown.includes(step);
      const button = item.querySelector('button')!;
      button.toggleAttribute('aria-current', step === open);
      if (step === open) {
        button.setAttribute('aria-current', 'step');
        if (this.#drafts.isOwn) {
          document.title = isOverview ? this.#title : `${button.textContent} · ${this.#title}`;
        }
      }
    }
    const number = shown.indexOf(open) + 1;
    for (const place of form.querySelectorAll('[data-of]')) {
      place.textContent = say('step.of', { number, count: shown.length - 1 });
    }
    const set = (selector: string, is: boolean) =>
      form.querySelectorAll<HTMLElement>(selector).forEach((it) => (it.hidden = !is));
    set('[data-overview]', isOverview);
    set('.marks', !isOverview);
    set('.actions [name=_next]', !isOverview);
    set('.actions [data-send]', isOverview);
    form.querySelector('[data-default]')?.toggleAttribute('name', !isOverview);
    if (!isOverview) {
      form.querySelector('[data-default]')?.setAttribute('name', '_next');
    }
    const back = form.querySelector<HTMLButtonElement>('[data-back]')!;
    back.value = shown[number - 2] ?? '';
    back.hidden = !back.value;
  }
}

/** Waits until nothing is asked of some fields. */
function settled(opened: OpenForm, names: string[]): Promise<void> {
  const isAsking = () => names.some((name) => opened.field(name).asked === 'asking');
  return new Promise((done) => {
    if (!isAsking()) {
      done();
      return;
    }
    const end = () => {
      stop();
      clearTimeout(timer);
      done();
    };
    const stop = opened.subscribe(() => !isAsking() && end());
    const timer = setTimeout(end, PATIENCE);
  });
}
