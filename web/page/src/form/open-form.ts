import type { UniqueChecks } from './unique-checks';
import type { ServerExpressions, ServerResults } from './server-expressions';
import type { Conflicts } from './conflicts';
import { Submission } from '../rules/submission';
import type { Context } from '../rules/stage-context';
import type { Description, Field, FieldError, Json, Values } from '../description';
import { toSend } from '../rules/verdict';
import { word } from '../rules/message';
import type { FieldState as RuleState } from '../rules/field-states';
import { Memory } from '../rules/expression-memo';
import { Refusal, type Accepted, type Problem, Service } from '../net/service';
import {
  control,
  isSame,
  type Asked,
  type FieldState,
  type FormState,
  type Moment,
  type OpenOptions,
  type Outcome,
} from './state';
import { at, fieldAt, own, put, typed } from '../tree';
import { asksEarly, isAsKept, partners, toAsk, uniques } from '../rules/unique-keys';
import { display, same, shown } from '../rules/value';
import { extras, more } from '../extras';

/** What is known of a field besides its rules. */
interface Noted {
  /** The person has been there, so its errors show. */
  visited: boolean;
  /** The service's word on a value, while it is the value that it spoke of. */
  told?: { error: FieldError; of: string } | undefined;
  asked: Asked;
  said: string;
  /** What became of what was typed, in a word. */
  changed?: string | undefined;
}

/** While a person types, the rules run once so many milliseconds are over. */
const PAUSE = 400;

/** An opened form: values, errors, early checks, submission. Needs no DOM; `dom/bind` connects it to a page. */
export class OpenForm extends EventTarget {
  /** False if the page's own rules are not heeded: a rehearsal shows the service's alone. */
  ruled = true;
  #now!: FormState;
  #submission!: Submission;
  #values: Values;
  #version: number;
  #key: string;
  #mode: 'add' | 'edit';
  #kept: Values;
  readonly #before: Submission;
  readonly #ends: (() => void)[] = [];
  #told = false;
  #closed = false;
  #timers: Record<string, ReturnType<typeof setTimeout>> = {};
  #context: Context;
  #serverExpressions: ServerExpressions | undefined;
  /** What the service said of the expressions that a page cannot work out. */
  #serverResults: ServerResults = { decided: {}, errors: [] };
  /** The fields that it is being asked about, and those that it could not be asked about. */
  #asked: { names: string[]; asked: Asked } = { names: [], asked: 'not' };
  readonly #noted = new Map<string, Noted>();
  /** The fields that the person has changed. */
  readonly #touched = new Set<string>();
  #asking: UniqueChecks | undefined;
  #conflicts: Conflicts | undefined;
  readonly #listeners = new Set<() => void>();
  readonly #service: Service;

  constructor(
    readonly description: Description,
    private readonly options: OpenOptions,
  ) {
    super();
    this.#service = options.service ?? new Service();
    this.#mode = options.mode;
    this.#version = options.version ?? 0;
    this.#key = options.key || newKey();
    this.#values = options.values;
    const kept = options.before ?? options.values;
    this.#kept = kept;
    this.#context = {
      ...(options.mode === 'edit' ? { mode: 'edit', before: kept } : { mode: 'add' }),
      memory: new Memory(),
    };
    this.#before = new Submission(description, options.mode === 'edit' ? kept : {}, {
      ...this.#context,
      memory: new Memory(),
    });
    this.#judge();
    for (const error of options.errors ?? []) {
      const ruleState = this.#submission.states.find((it) => it.pointer === error.pointer);
      if (ruleState) {
        this.#note(ruleState.name).told = { error, of: shown(ruleState.value) };
      }
    }
    this.#now = {
      fields: this.#fields({}),
      complete: false,
      others: [],
      refused: Boolean(options.errors?.length),
      working: false,
      slow: false,
    };
    this.#askServer();
    this.#ends.push(
      () => this.#asking?.close(),
      () => this.#serverExpressions?.close(),
    );
    if (options.follow && options.record) {
      this.#followChanges(description.form, options.record).catch(() => undefined);
    }
    // Whoever awaits the form can listen by then.
    setTimeout(() => this.#tellAll('opened', { opened: this }));
  }

  async #followChanges(form: string, record: string): Promise<void> {
    const { follow } = await more();
    if (!this.#closed) {
      this.#ends.push(
        // If it cannot be fetched now, the conflict shows when the form is sent.
        follow(this.#service.base, form, record, (version) =>
          this.#others()
            .then((it) => it.overtake(version))
            .catch(() => undefined),
        ),
      );
    }
  }

  /** Ends its requests and streams; nothing comes of it any more. */
  close(): void {
    this.#closed = true;
    this.#ends.splice(0).forEach((end) => end());
    Object.values(this.#timers).forEach(clearTimeout);
    this.#tellAll('closed');
  }

  #tellAll(moment: Moment, detail?: unknown, cancelable = false): boolean {
    if (moment === 'opened' ? this.#told : !this.#told) {
      // It comes first, and once.
      if (this.#told) {
        return true;
      }
      this.#tellAll('opened', { opened: this });
    }
    this.#told = true;
    return this.dispatchEvent(new CustomEvent(moment, { detail, cancelable }));
  }

  /** True if something was typed that is not saved. */
  unsaved(): boolean {
    return this.#touched.size > 0;
  }

  /** Begins anew, under a new key: what was typed goes, in all fields or in these. */
  clear(names?: string[]): void {
    const { values } = this.options;
    this.#values = names?.reduce((all, it) => put(all, it, at(values, it)), this.#values) ?? values;
    this.#noted.clear();
    this.#touched.clear();
    this.#key = newKey();
    this.#judge();
    this.#put({ refused: false, others: [] });
  }

  state = (): FormState => this.#now;

  /** Calls back after every change; the function that it gives ends that. */
  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** One field's state; a field of a row in which nothing stands yet has one too. */
  field(name: string): FieldState {
    return this.#now.fields[name] ?? this.#blank(name);
  }

  #blank(name: string): FieldState {
    return {
      field: this.#check(name),
      value: at(this.#values, name),
      asked: 'not',
      said: '',
      hidden: false,
      editable: true,
      required: false,
    };
  }

  /** The options that are offered just now; nothing for a field whose options never change. */
  offered(name: string): string[] | undefined {
    const { options, where } = this.#check(name);
    const ruleState = this.#submission.state(name);
    return ruleState && where !== undefined
      ? options?.map((it) => it.value).filter((it) => this.#submission.isOffered(ruleState, it))
      : undefined;
  }

  /** The typed values, as a tree. */
  typed(): Values {
    return this.#values;
  }

  /** A person types. An error that shows leaves as soon as the value is mended. */
  set(name: string, value: Json): void {
    this.#check(name);
    if ((this.field(name).value ?? '') === value) {
      return;
    }
    this.#touched.add(name);
    this.#asking?.end(name);
    const noted = this.#note(name);
    Object.assign(noted, { asked: 'not', said: '', changed: undefined });
    // An error that shows is judged anew; one that does not yet, waits until the field is left.
    noted.visited = Boolean(this.#now.fields[name]?.error);
    this.#unsay(this.#sharing(name));
    this.#values = put(this.#values, name, value);
    this.#judge();
    this.#drop(name);
    this.#put({});
    this.#tellAll('changed', { name });
    clearTimeout(this.#timers[name]);
    if (this.#submission.state(name)?.field.check === 'typing') {
      this.#timers[name] = setTimeout(() => this.#look(name), PAUSE);
    }
  }

  /** What the service said of values is said no more: they are others now. */
  #unsay(states: RuleState[]): void {
    for (const { name } of states) {
      this.#asking?.end(name);
      Object.assign(this.#note(name), { asked: 'not', said: '', told: undefined });
    }
  }

  /**
   * A person leaves a field: its own rules are run, then, if it is unique, the service is asked.
   *
   * @param read how a typed number was understood, where that is to be said
   */
  leave(name: string, read = ''): void {
    const field = this.#check(name);
    clearTimeout(this.#timers[name]);
    this.#tidy(this.#submission.state(name));
    if (read) {
      this.#note(name).changed = word(this.description, 'understood', { value: read });
    }
    if (field.check === 'submit') {
      this.#judge();
      this.#put({});
    } else {
      this.#look(name);
    }
  }

  /** A typed value gives way to the tidied one; where more than its ends changed, that is said. */
  #tidy(ruleState: RuleState | undefined): void {
    if (
      !ruleState ||
      ruleState.error?.code === 'bad-input' ||
      ruleState.field.fields ||
      !ruleState.editable
    ) {
      return;
    }
    const was = at(this.#values, ruleState.name);
    const now = control(ruleState);
    this.#values = put(this.#values, ruleState.name, now);
    if (typeof was === 'string' && typeof now === 'string' && now && was.trim() !== now) {
      // A number says the same in standard form, and a long text is not said again.
      const plain = /textarea|number|slider/.test(ruleState.field.control);
      this.#note(ruleState.name).changed = plain
        ? ''
        : word(this.description, 'tidied', { value: now });
    }
  }

  /** A choice that another value rules out is taken out, and that is said. */
  #drop(changed: string): void {
    for (const ruleState of this.#submission.states) {
      const { value, field, name } = ruleState;
      const kept = this.#mode === 'edit' && same(value, ruleState.kept);
      if (
        name === changed ||
        ruleState.hidden ||
        kept ||
        field.where === undefined ||
        !/^choice/.test(field.type)
      ) {
        continue;
      }
      const chosen = value.kind === 'chosen' ? value.options : [shown(value)].filter(Boolean);
      const left = chosen.filter((it) => this.#submission.isOffered(ruleState, it));
      const gone = chosen.filter((it) => !left.includes(it));
      if (gone.length) {
        this.#values = put(this.#values, name, value.kind === 'chosen' ? left : '');
        this.#judge();
        const label = gone.map((it) => display(field, it)).join(', ');
        this.#note(name).changed = word(this.description, 'dropped', { value: label });
      }
    }
  }

  /** The service offers a chosen record no longer. */
  take(name: string, label: string): void {
    this.set(name, '');
    this.#note(name).changed = word(this.description, 'dropped', { value: label });
    this.#put({});
  }

  /** Runs the rules of a field, and asks the service if it is unique. */
  #look(name: string): void {
    const noted = this.#note(name);
    noted.visited = true;
    if (noted.told?.error.code === 'held') {
      // Whoever held it may have released it.
      noted.told = undefined;
    }
    this.#judge();
    this.#put({});
    this.#tellAll('checked', { name, error: this.#now.fields[name]?.error });
    this.#question(name);
  }

  /** Asks the service about a value that is unique. */
  #question(name: string): void {
    for (const judged of [this.#submission.state(name), ...this.#sharing(name)]) {
      if (judged && !this.#now.fields[judged.name]?.error && this.#isWorthAsking(judged)) {
        this.#tell(judged, 'asking');
        this.#ask(judged).catch(() => this.#tell(judged, 'unanswered'));
      }
    }
  }

  async #ask(ruleState: RuleState): Promise<void> {
    const values = toAsk(this.#submission, ruleState);
    const { UniqueChecks = (await more()).UniqueChecks } = extras;
    this.#asking ??= new UniqueChecks(
      this.description.form,
      this.#service,
      this.options.record,
      (asked, reply) =>
        typeof reply === 'string' ? this.#tell(asked, reply) : this.#refuse(asked, reply),
    );
    if (!this.#closed && this.#note(ruleState.name).asked === 'asking') {
      const hold = uniques(ruleState.field).some((unique) => unique.hold);
      await this.#asking.ask(ruleState, values, hold);
    }
  }

  /** The fields that are unique together with another. */
  #sharing(name: string): RuleState[] {
    return this.#submission.states.filter((ruleState) =>
      uniques(ruleState.field).some((unique) => partners(unique).includes(name)),
    );
  }

  /** Rows: one more, at the end. */
  addRow(name: string): void {
    this.#values = put(this.#values, name, [...this.#rows(name), {}]);
    this.#judge();
    this.#put({});
  }

  /** Rows: one less; what was noted of those behind it is forgotten, for they are renumbered. */
  removeRow(name: string, index: number): void {
    this.#renumber(
      name,
      this.#rows(name).filter((_, i) => i !== index),
    );
  }

  #rows(name: string): Json[] {
    return (at(this.#values, name) ?? []) as Json[];
  }

  #renumber(name: string, rows: Json[]): void {
    this.#touched.add(name);
    this.#values = put(this.#values, name, rows);
    [...this.#noted.keys()]
      .filter((it) => it.startsWith(`${name}[`))
      .forEach((it) => this.#noted.delete(it));
    this.#judge();
    this.#put({});
  }

  /** Rows: one goes up by one place. */
  raiseRow(name: string, index: number): void {
    const rows = [...this.#rows(name)];
    rows.splice(index - 1, 0, ...rows.splice(index, 1));
    this.#renumber(name, rows);
  }

  #isWorthAsking(ruleState: RuleState): boolean {
    const changed = this.#mode === 'add' || !isAsKept(this.#before, this.#submission, ruleState);
    return (
      changed &&
      asksEarly(this.#submission, ruleState) &&
      this.#note(ruleState.name).asked === 'not'
    );
  }

  /** The service's word on what only it can decide: the form is judged anew with it. */
  #serverAnswered(open: RuleState[], results: ServerResults | 'asking' | undefined): void {
    const asked = results === 'asking' ? 'asking' : results ? 'free' : 'unanswered';
    this.#asked = {
      names: open.map((ruleState) => ruleState.name),
      asked: open.length ? asked : 'not',
    };
    // While it is asked anew, fields stay as they were; a rule's error would be of other values.
    this.#serverResults = {
      decided: results === 'asking' ? this.#serverResults.decided : (results?.decided ?? {}),
      errors: results === 'asking' ? [] : (results?.errors ?? []),
    };
    this.#context = { ...this.#context, decided: this.#serverResults.decided };
    this.#judge();
    this.#put({});
  }

  #tell(ruleState: RuleState, asked: Asked): void {
    const noted = this.#note(ruleState.name);
    noted.asked = asked;
    noted.said = '';
    const say = () => {
      if (noted.asked === asked) {
        noted.said = asked === 'not' ? '' : this.#submission.said(ruleState, asked);
        this.#put({});
      }
    };
    this.#put({});
    if (asked === 'asking') {
      // A quick answer comes before anybody need be told that it is awaited.
      this.#timers[`?${ruleState.name}`] = setTimeout(say, this.options.slow ?? 300);
    } else {
      say();
      this.#tellAll('checked', { name: ruleState.name });
    }
  }

  #refuse(ruleState: RuleState, error: FieldError): void {
    const noted = this.#note(ruleState.name);
    noted.told = { error, of: shown(ruleState.value) };
    noted.visited = true;
    Object.assign(noted, { asked: 'not', said: '' });
    this.#put({});
    this.#tellAll('checked', { name: ruleState.name, error });
  }

  /** Sends the form, unless its own rules refuse it already or a submission is under way. */
  async submit(): Promise<Outcome> {
    if (this.#now.working) {
      return { kind: 'ignored' };
    }
    if (!this.#showAll()) {
      this.#put({ refused: true, others: this.#submission.overall.map((error) => error.detail) });
      return this.#refused(false);
    }
    const values = toSend(this.#submission);
    if (!this.#tellAll('sending', { values }, true)) {
      return { kind: 'ignored' };
    }
    this.#put({ working: true, others: [], conflict: undefined, elsewhere: undefined });
    this.#timers['!'] = setTimeout(
      () => this.#now.working && this.#put({ slow: true }),
      this.options.slow ?? 300,
    );
    try {
      const record = await this.#send(values);
      this.#touched.clear();
      this.#forget();
      this.#version = record.version;
      let kept = record.values;
      if (record.rows) {
        const { numbered, renumbered } = await more();
        kept = numbered(record, put);
        this.#values = renumbered(record.rows, this.#values, this.#submission.states, put);
      }
      this.#keep(kept);
      if (this.#mode === 'edit') {
        // What is edited from here next is another submission.
        this.#key = newKey();
      }
      this.#put({ refused: false });
      this.#tellAll('accepted', { record });
      return { kind: 'accepted', record };
    } catch (failure) {
      this.#put({ refused: true });
      if (!(failure instanceof Refusal)) {
        const own = this.options.send && (failure as Error).message;
        this.#put({ others: [own || word(this.description, 'unreached')] });
        this.#tellAll('failed', { failure });
        return { kind: 'refused' };
      }
      const { problem } = failure;
      if (problem.type === '/problems/no-such-record') {
        this.#put({ elsewhere: [] });
      } else if (problem.version) {
        if (this.#mode === 'add') {
          // Somebody else's first save came before this one.
          this.#mode = 'edit';
          this.#kept = toSend(this.#before);
        }
        const conflict = await (await this.#others()).merge(problem);
        if (!conflict.length) {
          this.#put({ working: false });
          return await this.submit();
        }
      } else {
        this.#place(problem);
        if (problem.type === '/problems/key-reused') {
          // Somebody came back to what was accepted, and sends something else.
          this.#key = newKey();
          this.#put({ others: [word(this.description, 'sent')] });
        }
      }
      return this.#refused();
    } finally {
      this.#put({ working: false, slow: false });
    }
  }

  #refused(service = true): Outcome {
    this.#tellAll('refused', {
      service,
      errors: this.wrong().map((name) => this.#now.fields[name]!.error),
      others: this.#now.others,
    });
    return { kind: 'refused' };
  }

  async #send(values: Values): Promise<Accepted> {
    const { form, records } = this.description;
    if (this.options.send) {
      const nothing = { id: '', version: 0, called: '', values, after: { go: '', say: '' } };
      return (await this.options.send(values, this.#key)) ?? nothing;
    }
    if (this.#mode === 'add') {
      return records === 'one'
        ? this.#service.first(form, values, this.#key)
        : this.#service.add(form, values, this.#key, this.#asking?.page);
    }
    const record = records === 'one' ? '' : this.options.record!;
    const { patch } = await more();
    return this.#service.edit(
      form,
      record,
      this.#version,
      patch(this.#kept, values),
      this.#key,
      this.#asking?.page,
    );
  }

  /** Every error shows, and values stand as tidied; true if there is no error. */
  #showAll(): boolean {
    for (const ruleState of this.#submission.states) {
      const noted = this.#note(ruleState.name);
      noted.visited = true;
      if (!ruleState.hidden) {
        this.#tidy(ruleState);
      }
    }
    this.#judge();
    return !this.ruled || this.#submission.errors().length === 0;
  }

  /** What the service said of values is said no more: it has said something else of all of them. */
  #forget(): void {
    this.#noted.forEach((noted) => (noted.told = undefined));
  }

  /** Puts the service's errors beside their fields; errors without a field here go above them all. */
  #place(problem: Problem): void {
    const others: string[] = [];
    this.#forget();
    for (const error of problem.errors ?? []) {
      const ruleState = this.#submission.states.find((it) => it.pointer === error.pointer);
      if (ruleState) {
        this.#refuse(ruleState, error);
      } else {
        others.push(error.detail);
      }
    }
    if (!problem.errors) {
      others.push(problem.detail ?? problem.title);
    }
    this.#put({ others });
  }

  /** What the record keeps from now on: an edit is compared with it, and judged against it. */
  #keep(values: Values): void {
    this.#kept = values;
    if (this.#mode === 'edit') {
      this.#context = { ...this.#context, mode: 'edit', before: values };
    }
  }

  /** What brings together two people's changes; only an edit comes to need it. */
  async #others(): Promise<Conflicts> {
    const { Conflicts } = await more();
    return (this.#conflicts ??= new Conflicts(
      this.description,
      this.#service,
      this.options.record,
      () => ({
        kept: this.#kept,
        version: this.#version,
        typed: this.#values,
        sent: toSend(this.#submission),
        state: this.#now,
      }),
      (theirs, merged) => {
        this.#version = theirs.version;
        this.#values = merged;
        this.#keep(theirs.values);
        // Rows may be others now, and what was noted of them is not of these.
        [...this.#noted.keys()]
          .filter((it) => it.includes('['))
          .forEach((it) => this.#noted.delete(it));
        this.#judge();
      },
      (part) => this.#put(part),
      put,
    ));
  }

  /** Takes over what somebody else has saved, but for what was changed here too. */
  async takeTheirs(): Promise<void> {
    await (await this.#others()).takeAll();
  }

  /** At a conflict: takes what the others saved. */
  keepTheirs(name: string): void {
    const [taken] = this.#now.conflict!.filter((it) => it.name === name);
    const left = this.#now.conflict!.filter((it) => it !== taken);
    this.#values = put(this.#values, name, taken!.theirs ?? '');
    this.#judge();
    this.#put({ conflict: left.length ? left : undefined });
  }

  /** The names of the fields that show an error, in order. */
  wrong(): string[] {
    return Object.keys(this.#now.fields).filter((name) => this.#now.fields[name]!.error);
  }

  /** The field of a name, which the form must have. */
  #check(name: string): Field {
    const field = fieldAt(this.description.fields, name);
    if (!field) {
      throw new Error(`The form ${this.description.form} has no field "${name}".`);
    }
    return field;
  }

  #judge(): void {
    this.#submission = new Submission(this.description, typed(this.#values), this.#context);
    if (this.#mode === 'add' && this.#suggest()) {
      this.#submission = new Submission(this.description, typed(this.#values), this.#context);
    }
    if (this.#now) {
      this.#askServer();
    }
  }

  /** Has the service asked what only it can decide; few forms have anything of the kind. */
  #askServer(): void {
    const open = this.#submission.states.filter((ruleState) => ruleState.open.size);
    if (!this.#serverExpressions && open.length) {
      if (!extras.ServerExpressions) {
        more().then(
          () => this.#askServer(),
          () => this.#serverAnswered(open, undefined),
        );
        return;
      }
      this.#serverExpressions = new extras.ServerExpressions(
        this.description,
        this.#service,
        this.options.record,
        (states, results) => this.#serverAnswered(states, results),
      );
    }
    const submission = this.#submission;
    this.#serverExpressions?.follow(submission.states, () => submission.values(true));
  }

  /** Suggested values follow other fields until the person changes them; true if one did. */
  #suggest(): boolean {
    let moved = false;
    for (const ruleState of this.#submission.states) {
      const suggested = this.#touched.has(ruleState.name)
        ? undefined
        : this.#submission.suggestion(ruleState);
      if (suggested && !same(suggested, ruleState.value)) {
        this.#values = put(this.#values, ruleState.name, shown(suggested));
        moved = true;
        // Nobody has been there, and whether it is free can be said all the same.
        this.#unsay([ruleState]);
        clearTimeout(this.#timers[ruleState.name]);
        this.#timers[ruleState.name] = setTimeout(() => this.#question(ruleState.name), PAUSE);
      }
    }
    return moved;
  }

  #note(name: string): Noted {
    let noted = this.#noted.get(name);
    if (!noted) {
      noted = { visited: false, asked: 'not', said: '' };
      this.#noted.set(name, noted);
    }
    return noted;
  }

  /** The states of all fields; one that did not change stays the object that it was. */
  #fields(before: Record<string, FieldState>): Record<string, FieldState> {
    const fields = Object.create(null) as Record<string, FieldState>;
    const put = (name: string, next: FieldState) => {
      const old = own(before, name);
      fields[name] = old && isSame(old, next) ? old : next;
    };
    // Of a row in which nothing stands yet, nothing is judged.
    const blank = (outer: string, inside: Field[] = []) =>
      inside.forEach((field) => {
        put(outer + field.name, this.#blank(outer + field.name));
        blank(`${outer}${field.name}.`, field.type === 'group' ? field.fields : []);
      });
    for (const ruleState of this.#submission.states) {
      put(ruleState.name, this.#fieldState(ruleState));
      if (ruleState.field.type === 'rows') {
        this.#rows(ruleState.name).forEach((_, i) =>
          blank(`${ruleState.name}[${i}].`, ruleState.field.fields),
        );
      }
    }
    return fields;
  }

  #fieldState(ruleState: RuleState): FieldState {
    const noted = this.#note(ruleState.name);
    const stands = noted.told && noted.told.of === shown(ruleState.value) ? noted.told : undefined;
    const own = noted.visited && this.ruled ? ruleState.error : undefined;
    const byService = this.#serverResults.errors.find((it) => it.pointer === ruleState.pointer);
    const error = stands?.error ?? own ?? byService;
    const { asked, said } = this.#questions(ruleState.name, noted);
    const typed = at(this.#values, ruleState.name);
    const computed =
      ruleState.field.compute !== undefined || (ruleState.absent && !ruleState.field.fields);
    return {
      field: ruleState.field,
      value: computed ? control(ruleState) : typed,
      ...(error && { error }),
      asked,
      said: said || noted.changed || '',
      hidden: ruleState.hidden,
      editable: ruleState.editable,
      required: this.#submission.isRequired(ruleState),
      offered: this.offered(ruleState.name),
      length:
        ruleState.field.control === 'textarea' ? [...shown(ruleState.value)].length : undefined,
    };
  }

  /** What is said of questions about a field: that about its value, else that about its rules. */
  #questions(name: string, noted: Noted): { asked: Asked; said: string } {
    const { names, asked } = this.#asked;
    if (noted.asked !== 'not' || !names.includes(name) || asked === 'free' || asked === 'not') {
      return noted;
    }
    const key = asked === 'asking' ? 'asking-service' : 'unasked-service';
    return { asked, said: word(this.description, key) };
  }

  #put(part: Partial<FormState>): void {
    const before = this.#now;
    const fields = this.#fields(before.fields);
    const complete =
      !this.#submission.errors().length &&
      Object.values(fields).every((it) => !it.error && it.asked !== 'asking');
    this.#now = { ...before, fields, complete, ...part };
    this.#listeners.forEach((listener) => listener());
    if (complete !== before.complete) {
      this.#tellAll('complete', { complete });
    }
  }
}

/** 128 random bits; `randomUUID` is there for pages that came by https only. */
function newKey(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((it) => it.toString(36)).join('-');
}
