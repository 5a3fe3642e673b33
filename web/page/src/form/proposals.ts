import type { Json } from '../description';
import type { Checked } from '../net/service';
import type { FieldState } from '../rules/field-states';
import type { change, FormModel, publish } from './form-model';
import type { noteOf } from './notes';

/** What the page's script has already, and is not loaded twice. */
export interface Tools {
  change: typeof change;
  noteOf: typeof noteOf;
  publish: typeof publish;
}

/** A field that is filled in: the name of the field that was asked about, and what stood there. */
interface Filled {
  by: string;
  before: Json;
}

/** Fills in what those propose who were asked about a value. What a person typed stays. */
export class Proposals {
  readonly #filled = new Map<string, Filled>();

  constructor(
    private readonly model: FormModel,
    private readonly tools: Tools,
  ) {}

  /** Fills in what was proposed with the value of a field; what was proposed with another goes. */
  take(asked: FieldState, fill: NonNullable<Checked['fill']>): void {
    const { model } = this;
    const states = fill.map(({ pointer }) =>
      model.submission.states.find((it) => it.pointer === pointer),
    );
    for (const [name, { by, before }] of this.#filled) {
      if (by === asked.name && !states.some((it) => it?.name === name)) {
        this.#set(name, before);
        this.#filled.delete(name);
      }
    }
    fill.forEach(({ value, detail }, i) => {
      const name = states[i]?.name;
      if (name && this.#isFree(name)) {
        const before = this.#filled.get(name)?.before ?? this.#value(name);
        this.#filled.set(name, { by: asked.name, before });
        // As its control has it.
        this.#set(name, typeof value === 'number' ? String(value) : value, detail);
      }
    });
    this.tools.publish(model);
  }

  #value(name: string): Json {
    return this.model.state.fields[name]?.value ?? '';
  }

  #isFree(name: string): boolean {
    const { mode, touched } = this.model;
    const isBlank = this.#value(name) === '';
    return !touched.has(name) && (mode === 'add' || isBlank || this.#filled.has(name));
  }

  #set(name: string, value: Json, said?: string): void {
    const { model, tools } = this;
    if (model.touched.has(name)) {
      return;
    }
    tools.change(model, name, value);
    const ruleState = model.submission.state(name);
    if (ruleState) {
      model.onSuggested?.(ruleState);
    }
    // What is not right about it is said at once, for nobody will leave the field.
    Object.assign(tools.noteOf(model.notes, name), { changed: said, visited: Boolean(said) });
  }
}
