import type { Conflicts } from './conflicts';
import type { Description, FieldError, Json, Values } from '../description';
import { Service } from '../net/service';
import { word } from '../rules/message';
import { shown } from '../rules/value';
import { toSend } from '../rules/verdict';
import type { FieldState, FormState, OpenOptions, Outcome } from './state';
import { at, put } from '../tree';
import { more } from '../extras';
import { dispatcher, type Dispatch } from './events';
import { fieldChecks, type FieldChecks } from './field-checks';
import { blankState, fieldOf, fieldStates, offered } from './field-states';
import {
  aboutField,
  change,
  dropExcluded,
  evaluate,
  keep,
  openedModel,
  publish,
  renumber,
  rowsOf,
  sayDropped,
  tidy,
  update,
  wrong,
  type FormModel,
} from './form-model';
import { forget, noteOf } from './notes';
import { watchServerRules } from './server-rules';
import { submitter } from './submit';

/** An opened form: values, errors, early checks, submission. Needs no DOM; `dom/bind` connects it to a page. */
export class OpenForm extends EventTarget {
  /** False if the page's own rules are not heeded: a rehearsal shows the service's alone. */
  ruled = true;
  readonly #model: FormModel;
  readonly #service: Service;
  readonly #options: OpenOptions;
  readonly #dispatch: Dispatch;
  readonly #checks: FieldChecks;
  readonly #submitter: ReturnType<typeof submitter>;
  /** Ends what is under way; none once it is closed. */
  #ends: (() => void)[] | undefined;
  #conflicts: Conflicts | undefined;

  constructor(
    readonly description: Description,
    options: OpenOptions,
  ) {
    super();
    this.#options = options;
    const { errors = [], service = new Service(), record, follow } = options;
    const model = openedModel(description, options, () => this.ruled);
    const [opens, dispatch] = dispatcher(this);
    this.#dispatch = dispatch;
    this.#model = model;
    this.#service = service;
    this.#checks = fieldChecks(model, options, service, dispatch);
    this.#submitter = submitter(model, options, service, dispatch, this.#checks, () =>
      this.#others(),
    );
    model.onComplete = (complete) => dispatch('complete', { complete });
    evaluate(model);
    for (const error of errors) {
      const ruleState = aboutField(model, error);
      if (ruleState) {
        noteOf(model.notes, ruleState.name).told = { error, of: shown(ruleState.value) };
      }
    }
    model.state = {
      fields: fieldStates(model, {}),
      complete: false,
      others: [],
      refused: errors.length > 0,
      working: false,
      slow: false,
    };
    this.#ends = [watchServerRules(model, service, record), this.#checks.close];
    if (follow && record) {
      // If it cannot be fetched now, the conflict shows when the form is sent.
      this.#others().then(
        (it) => this.#ends?.push(it.follow()),
        () => undefined,
      );
    }
    // Whoever awaits the form can listen by then.
    setTimeout(opens);
  }

  /** Ends its requests and streams; nothing comes of it any more. */
  close(): void {
    this.#ends?.forEach((end) => end());
    this.#ends = undefined;
    this.#dispatch('closed');
  }

  /** True if something was typed that is not saved. */
  unsaved(): boolean {
    return this.#model.touched.size > 0;
  }

  /** Begins anew, under a new key: what was typed goes, in all fields or in these. */
  clear(names?: string[]): void {
    const model = this.#model;
    const { values } = this.#options;
    model.values = names?.reduce((all, it) => put(all, it, at(values, it)), model.values) ?? values;
    this.#checks.end();
    model.notes.clear();
    model.touched.clear();
    this.#submitter.renew();
    update(model, { refused: false, others: [] });
  }

  state = (): FormState => this.#model.state;

  /** Calls back after every change; the function that it gives ends that. */
  subscribe = (listener: () => void): (() => void) => {
    const { listeners } = this.#model;
    listeners.add(listener);
    return () => listeners.delete(listener);
  };

  /** One field's state; a field of a row in which nothing stands yet has one too. */
  field(name: string): FieldState {
    return this.state().fields[name] ?? blankState(this.#model, name);
  }

  /** The options that are offered just now; nothing for a field whose options never change. */
  offered(name: string): string[] | undefined {
    return offered(this.#model, name);
  }

  /** The typed values, as a tree. */
  typed(): Values {
    return this.#model.values;
  }

  /** A person types. An error that shows leaves as soon as the value is mended. */
  set(name: string, value: Json): void {
    fieldOf(this.description, name);
    if ((this.field(name).value ?? '') === value) {
      return;
    }
    const model = this.#model;
    model.touched.add(name);
    this.#checks.typing(name);
    change(model, name, value);
    dropExcluded(model, name);
    publish(model);
    this.#dispatch('changed', { name });
    this.#checks.typed(name);
  }

  /**
   * A person leaves a field: its own rules are run, then, if it is unique, the service is asked.
   *
   * @param read how a typed number was understood, where that is to be said
   */
  leave(name: string, read = ''): void {
    const model = this.#model;
    const { check } = fieldOf(this.description, name);
    this.#checks.stop(name);
    tidy(model, model.submission.state(name));
    if (read) {
      noteOf(model.notes, name).changed = word(this.description, 'understood', { value: read });
    }
    if (check === 'submit') {
      update(model);
    } else {
      this.#checks.check(name);
    }
  }

  /** A person goes on from these fields, whether they were in them or not. */
  leaveAll(names: string[]): void {
    names.forEach((name) => tidy(this.#model, this.#model.submission.state(name)));
    this.#checks.check(...names);
    publish(this.#model, { refused: wrong(this.#model).length > 0 });
  }

  /** The service offers a chosen record no longer. */
  take(name: string, label: string): void {
    this.set(name, '');
    sayDropped(this.#model, name, label);
    publish(this.#model);
  }

  /** Rows: one more, at the end. */
  addRow(name: string): void {
    change(this.#model, name, [...rowsOf(this.#model, name), {}]);
    publish(this.#model);
  }

  /** Rows: one less. */
  removeRow(name: string, index: number): void {
    renumber(
      this.#model,
      name,
      rowsOf(this.#model, name).filter((_, i) => i !== index),
    );
  }

  /** Rows: one goes up by one place. */
  raiseRow(name: string, index: number): void {
    const rows = [...rowsOf(this.#model, name)];
    rows.splice(index - 1, 0, ...rows.splice(index, 1));
    renumber(this.#model, name, rows);
  }

  /** Sends the form, unless its own rules refuse it already or a submission is under way. */
  submit(): Promise<Outcome> {
    return this.#submitter.submit();
  }

  /** What brings together two people's changes; only an edit comes to need it. */
  async #others(): Promise<Conflicts> {
    const { Conflicts } = await more();
    return (this.#conflicts ??= new Conflicts(this.#model, this.#service, this.#options.record, {
      put,
      toSend,
      change,
      keep,
      update,
      publish,
      forget,
    }));
  }

  /** Takes over what somebody else has saved, but for what was changed here too. */
  async takeTheirs(): Promise<void> {
    await (await this.#others()).takeAll();
  }

  /** At a conflict: takes what the others saved. */
  keepTheirs(name: string): void {
    this.#conflicts!.take(name);
  }

  /** Shows what the service has found wrong at its fields. */
  tell(errors: FieldError[]): void {
    for (const error of errors) {
      const ruleState = aboutField(this.#model, error);
      if (ruleState) {
        this.#checks.refuse(ruleState, error);
      }
    }
    publish(this.#model, { refused: wrong(this.#model).length > 0 });
  }

  /** The names of the fields that show an error, in order. */
  wrong(): string[] {
    return wrong(this.#model);
  }
}
