import type { Description, Field, FieldError, Json, Values } from './description';
import { judgeField, pointer, sentence } from './judge';
import { read } from './read';
import { Refusal, type Accepted, type Problem, Service } from './service';

/** Where the early question about a unique value stands. */
export type Asked = 'not' | 'asking' | 'free' | 'unanswered';

/** One field of an opened form. */
export interface FieldState {
  /** As typed; once the field was left, as tidied. */
  value: Json;
  error?: FieldError;
  asked: Asked;
  /** The state of the early question in words; empty if there is nothing to say. */
  said: string;
}

/** A field that somebody else saved otherwise than it is typed here. */
export interface Difference {
  field: Field;
  theirs: Json;
  yours: Json;
}

/** What a form looks like at one moment; each change makes a new one. */
export interface FormState {
  fields: Record<string, FieldState>;
  /** Errors that belong to no field here. */
  others: string[];
  /** A submission was refused, here or by the service. */
  refused: boolean;
  /** A submission is under way. */
  working: boolean;
  /** Somebody else saved the record meanwhile. */
  conflict?: Difference[] | undefined;
}

export interface OpenOptions {
  mode: 'add' | 'edit';
  /** The first values; in an edit, the record's. */
  values: Values;
  /** In an edit: the record's id and version. */
  record?: string;
  version?: number;
  /** Errors that the page came with. */
  errors?: FieldError[];
  service?: Service;
}

export type Outcome =
  { kind: 'accepted'; record: Accepted } | { kind: 'refused' } | { kind: 'ignored' };

const UNREACHED =
  'The service cannot be reached. What you typed is still here; try again in a moment.';

/** An opened form: its values, its errors, its questions. It knows nothing of a page. */
export class Opened {
  private now: FormState;
  private version: number;
  private readonly original: Values;
  private readonly byName = new Map<string, Field>();
  private readonly questions = new Map<string, AbortController>();
  private readonly answered = new Map<string, string>();
  private readonly listeners = new Set<() => void>();
  private readonly service: Service;

  constructor(
    readonly description: Description,
    private readonly options: OpenOptions,
  ) {
    this.service = options.service ?? new Service();
    this.version = options.version ?? 0;
    this.original = { ...options.values };
    const fields: Record<string, FieldState> = {};
    for (const field of description.fields) {
      this.byName.set(field.name, field);
      const error = options.errors?.find((it) => it.pointer === pointer(field));
      fields[field.name] = {
        value: options.values[field.name],
        asked: 'not',
        said: '',
        ...(error && { error }),
      };
    }
    const refused = Boolean(options.errors?.length);
    this.now = { fields, others: [], refused, working: false };
  }

  state = (): FormState => this.now;

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** A person types. An error that shows leaves as soon as the value is mended. */
  set(name: string, value: Json): void {
    const field = this.field(name);
    const before = this.now.fields[name]!;
    if (before.value === value) {
      return;
    }
    this.questions.get(name)?.abort();
    this.questions.delete(name);
    const next: FieldState = { value, asked: 'not', said: '' };
    const error = before.error && judgeField(field, value).error;
    if (error) {
      next.error = error;
    }
    this.change(name, next);
  }

  /** A person leaves a field: its own rules are run, then, if it is unique, the service is asked. */
  leave(name: string): void {
    const field = this.field(name);
    const state = this.now.fields[name]!;
    const judged = judgeField(field, state.value);
    const value = judged.error?.code === 'bad-input' ? state.value : this.shown(field, judged);
    const kept = this.standing(field, state, judged.shown);
    const error = judged.error ?? kept;
    const next: FieldState = { value, asked: state.asked, said: state.said };
    if (error) {
      next.error = error;
    }
    this.change(name, next);
    if (!error && this.isWorthAsking(field, judged.value, judged.shown)) {
      void this.ask(field, judged.value, judged.shown);
    }
  }

  /** An error that the service told stays while the value is still the one that it spoke of. */
  private standing(field: Field, state: FieldState, shown: string): FieldError | undefined {
    return state.error && this.answered.get(field.name) === shown ? state.error : undefined;
  }

  private isWorthAsking(field: Field, value: Json, shown: string): boolean {
    const unchanged =
      this.options.mode === 'edit' && judgeField(field, this.original[field.name]).shown === shown;
    const state = this.now.fields[field.name]!;
    return Boolean(field.unique) && value !== null && !unchanged && state.asked === 'not';
  }

  private async ask(field: Field, value: Json, shown: string): Promise<void> {
    const question = new AbortController();
    this.questions.set(field.name, question);
    this.tell(field, 'asking', shown);
    let error: FieldError | undefined;
    let asked: Asked = 'free';
    try {
      const { record } = this.options;
      const verdict = await this.service.check(
        this.description.form,
        field.name,
        value,
        record,
        question.signal,
      );
      error = verdict.errors.find((it) => it.pointer === pointer(field));
      asked = verdict.unasked.includes(pointer(field)) ? 'unanswered' : 'free';
    } catch {
      asked = 'unanswered';
    }
    if (this.questions.get(field.name) !== question) {
      return; // The value has changed since: the reply speaks of another one.
    }
    this.questions.delete(field.name);
    if (error) {
      this.refuse(field, error);
    } else {
      this.tell(field, asked, shown);
    }
  }

  private tell(field: Field, asked: Asked, shown: string): void {
    const said = asked === 'not' ? '' : sentence(field, asked, read(field, shown));
    this.change(field.name, { ...this.now.fields[field.name]!, asked, said });
  }

  private refuse(field: Field, error: FieldError): void {
    const { value } = this.now.fields[field.name]!;
    this.answered.set(field.name, judgeField(field, value).shown);
    this.change(field.name, { value, error, asked: 'not', said: '' });
  }

  /** Sends the form, unless its own rules refuse it already or a submission is under way. */
  async submit(): Promise<Outcome> {
    if (this.now.working) {
      return { kind: 'ignored' };
    }
    const values = this.judgeAll();
    if (!values) {
      this.put({ refused: true });
      return { kind: 'refused' };
    }
    this.put({ working: true, others: [], conflict: undefined });
    try {
      const { form } = this.description;
      const { mode, record } = this.options;
      const accepted =
        mode === 'edit'
          ? await this.service.edit(form, record!, this.version, values)
          : await this.service.add(form, values);
      return { kind: 'accepted', record: accepted };
    } catch (failure) {
      this.put({ refused: true });
      if (failure instanceof Refusal) {
        this.place(failure.problem);
      } else {
        this.put({ others: [UNREACHED] });
      }
      return { kind: 'refused' };
    } finally {
      this.put({ working: false });
    }
  }

  /** The values to send, or nothing: then every error shows. */
  private judgeAll(): Values | undefined {
    const values: Values = {};
    const fields = { ...this.now.fields };
    let fine = true;
    for (const field of this.description.fields) {
      const state = fields[field.name]!;
      const judged = judgeField(field, state.value);
      values[field.name] = judged.value;
      if (judged.error) {
        fields[field.name] = { value: state.value, error: judged.error, asked: 'not', said: '' };
        fine = false;
      } else {
        fields[field.name] = { ...state, value: this.shown(field, judged) };
      }
    }
    this.put({ fields });
    return fine ? values : undefined;
  }

  private shown(field: Field, judged: { value: Json; shown: string }): Json {
    return field.type === 'boolean' ? judged.value : judged.shown;
  }

  /** Puts the service's errors beside their fields; what has no place here goes above them all. */
  private place(problem: Problem): void {
    const others: string[] = [];
    for (const error of problem.errors ?? []) {
      const field = this.description.fields.find((it) => pointer(it) === error.pointer);
      if (field) {
        this.refuse(field, error);
      } else {
        others.push(error.detail);
      }
    }
    if (problem.status === 412 && problem.version) {
      // Sent again, the form takes the place of theirs: knowingly, for now it is told.
      this.version = problem.version;
      const conflict = (problem.fields ?? []).flatMap(({ pointer: at, theirs, yours }) => {
        const field = this.description.fields.find((it) => pointer(it) === at);
        return field ? [{ field, theirs, yours }] : [];
      });
      this.put({ conflict });
    } else if (!problem.errors) {
      others.push(problem.detail ?? problem.title);
    }
    this.put({ others });
  }

  /** The names of the fields that show an error, in order. */
  wrong(): string[] {
    return this.description.fields
      .map((field) => field.name)
      .filter((name) => this.now.fields[name]!.error);
  }

  private field(name: string): Field {
    const field = this.byName.get(name);
    if (!field) {
      throw new Error(`The form ${this.description.form} has no field "${name}".`);
    }
    return field;
  }

  private change(name: string, field: FieldState): void {
    this.put({ fields: { ...this.now.fields, [name]: field } });
  }

  private put(part: Partial<FormState>): void {
    this.now = { ...this.now, ...part };
    this.listeners.forEach((listener) => listener());
  }
}
