import type { FieldError, Values } from './description';
import type { Service } from './service';
import type { Slot } from './slots';

/** Asks the service early about a value that it may know something of; one question a field. */
export class Asking {
  readonly #questions = new Map<string, AbortController>();

  constructor(
    private readonly form: string,
    private readonly service: Service,
    private readonly record: string | undefined,
    /** Is told what came of a question whose value still stands. */
    private readonly heard: (slot: Slot, reply: 'free' | 'unanswered' | FieldError) => void,
  ) {}

  async ask(slot: Slot, values: Values): Promise<void> {
    const { name } = slot;
    const question = new AbortController();
    this.#questions.set(name, question);
    let reply: 'free' | 'unanswered' | FieldError;
    try {
      const verdict = await this.service.check(
        this.form,
        slot.path,
        values,
        this.record,
        question.signal,
      );
      const pointer = `#/${slot.path.replace(/\./g, '/')}`;
      reply =
        verdict.errors.find((it) => it.pointer === pointer) ??
        (verdict.unasked.includes(pointer) ? 'unanswered' : 'free');
    } catch {
      reply = 'unanswered';
    }
    if (this.#questions.get(name) === question) {
      this.#questions.delete(name);
      this.heard(slot, reply);
    } // Else the value has changed since: the reply speaks of another one.
  }

  /** Nobody listens any more. */
  close(): void {
    [...this.#questions.keys()].forEach((name) => this.end(name));
  }

  /** The value has changed: what is asked about it no longer matters. */
  end(name: string): void {
    this.#questions.get(name)?.abort();
    this.#questions.delete(name);
  }
}
