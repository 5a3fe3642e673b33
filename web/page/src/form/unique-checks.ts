import type { FieldError, Values } from '../description';
import type { Checked, Service } from '../net/service';
import type { FieldState } from '../rules/field-states';
import type { FormModel } from './form-model';
import { Proposals, type Tools } from './proposals';

/** Asks the service about values while the form is filled in; one request per field. */
export class UniqueChecks {
  readonly #questions = new Map<string, AbortController>();
  /** What is held for this page, by field, so that it can be held again. */
  readonly #held = new Map<string, [FieldState, Values]>();
  /** What the service calls this page; asked for with the first value that is to be held. */
  #page: Promise<string> | undefined;
  #named = '';
  readonly #form: string;
  readonly #proposals: Proposals;

  constructor(
    model: FormModel,
    private readonly service: Service,
    private readonly record: string | undefined,
    /** Is told what came of a question whose value still stands. */
    private readonly heard: (
      ruleState: FieldState,
      reply: 'free' | 'unanswered' | FieldError,
    ) => void,
    tools: Tools,
  ) {
    this.#form = model.description.form;
    this.#proposals = new Proposals(model, tools);
  }

  /** The name of the page, if values are held for it. */
  get page(): string {
    return this.#named;
  }

  async #open(): Promise<string> {
    if (!this.#page) {
      this.#page = this.service
        .call('POST', `/holds?form=${this.#form}`)
        .then((reply) => (reply as { page: string }).page);
      if (typeof window !== 'undefined') {
        window.addEventListener('pagehide', this.#hide);
        window.addEventListener('pageshow', this.#show);
      }
    }
    this.#named = await this.#page;
    return this.#named;
  }

  /** Releases what the page holds, when it is left; a request that is under way is not awaited. */
  readonly #hide = () => {
    if (this.#named && typeof window !== 'undefined') {
      const { base } = this.service;
      navigator.sendBeacon(`${base}/holds/release?form=${this.#form}&page=${this.#named}`);
    }
    this.#page = undefined;
    this.#named = '';
  };

  /** One that comes back as it was left holds them again, or hears that somebody else does. */
  readonly #show = ({ persisted }: PageTransitionEvent) => {
    if (persisted) {
      this.#held.forEach(([ruleState, values]) => void this.ask(ruleState, values, true));
    }
  };

  async ask(ruleState: FieldState, values: Values, hold = false): Promise<void> {
    const { name } = ruleState;
    const question = new AbortController();
    this.#questions.get(name)?.abort();
    this.#questions.set(name, question);
    let reply: 'free' | 'unanswered' | FieldError;
    let fill: Checked['fill'];
    try {
      // What cannot be held can be asked about all the same.
      const page = hold ? await this.#open().catch(() => '') : '';
      if (page) {
        this.#held.set(name, [ruleState, values]);
      }
      const verdict = await this.service.check(
        this.#form,
        ruleState.path,
        values,
        this.record,
        question.signal,
        page,
      );
      ({ fill } = verdict);
      const pointer = `#/${ruleState.path.replace(/\./g, '/')}`;
      reply =
        verdict.errors.find((it) => it.pointer === pointer) ??
        (verdict.unasked.includes(pointer) ? 'unanswered' : 'free');
    } catch {
      reply = 'unanswered';
    }
    if (this.#questions.get(name) === question) {
      this.#questions.delete(name);
      this.heard(ruleState, reply);
      this.#proposals.take(ruleState, fill ?? []);
    } // Else the value has changed since: the reply speaks of another one.
  }

  /** Nobody listens any more. */
  close(): void {
    [...this.#questions.keys()].forEach((name) => this.end(name));
    if (this.#page) {
      this.#hide();
      if (typeof window !== 'undefined') {
        window.removeEventListener('pagehide', this.#hide);
        window.removeEventListener('pageshow', this.#show);
      }
    }
  }

  /** The value has changed: what is asked about it no longer matters. */
  end(name: string): void {
    this.#questions.get(name)?.abort();
    this.#questions.delete(name);
    this.#held.delete(name);
  }
}
