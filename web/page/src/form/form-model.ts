import type { Description, FieldError, Json, Values } from '../description';
import { Memory } from '../rules/expression-memo';
import type { FieldState as RuleState } from '../rules/field-states';
import { word } from '../rules/message';
import type { Context } from '../rules/stage-context';
import { Submission } from '../rules/submission';
import { at, put, typed } from '../tree';
import { excluded, isTidied, saidOfTidying, suggestions } from './edits';
import { fieldStates, type Evaluated } from './field-states';
import { forget, noteOf, type Note } from './notes';
import type { ServerResults } from './server-expressions';
import { control, type FormState, type OpenOptions } from './state';

/** The values of an opened form, and what the rules make of them. The functions of this file alone run the rules. */
export interface FormModel extends Evaluated {
  state: FormState;
  mode: 'add' | 'edit';
  /** What the record keeps; an edit is compared with it. */
  kept: Values;
  version: number;
  /** The form as it was opened. */
  before: Submission;
  /** The fields that the person has changed. */
  touched: Set<string>;
  listeners: Set<() => void>;
  /** Is called when the rules have run, once there is a state. */
  onEvaluated?: () => void;
  /** Is called with fields whose values were suggested anew. */
  onSuggested?: (ruleState: RuleState) => void;
  /** Is called when the form becomes complete, or incomplete. */
  onComplete?: (complete: boolean) => void;
  context: Context;
}

/** A form that is opened; its rules have not run. */
export function openedModel(
  description: Description,
  { mode, values, before: kept = values, version = 0 }: OpenOptions,
  isRuled: () => boolean,
): FormModel {
  const context: Context = mode === 'edit' ? { mode, before: kept } : { mode };
  const remembering = () => ({ ...context, memory: new Memory() });
  const before = new Submission(description, mode === 'edit' ? kept : {}, remembering());
  return {
    description,
    mode,
    values,
    kept,
    version,
    before,
    submission: before,
    context: remembering(),
    state: undefined!,
    isRuled,
    notes: new Map<string, Note>(),
    touched: new Set(),
    server: { decided: {}, errors: [], names: [], asked: 'not' },
    listeners: new Set(),
  };
}

/** Runs the rules on the values; what they suggest is taken over, while a record is added. */
export function evaluate(model: FormModel): void {
  const run = () => {
    model.submission = new Submission(model.description, typed(model.values), model.context);
  };
  run();
  const suggested = model.mode === 'add' ? suggestions(model.submission, model.touched) : [];
  for (const [ruleState, value] of suggested) {
    model.values = put(model.values, ruleState.name, value);
    model.onSuggested?.(ruleState);
  }
  if (suggested.length) {
    run();
  }
  if (model.state) {
    model.onEvaluated?.();
  }
}

/** Publishes a state in which these parts are others. */
export function publish(model: FormModel, part: Partial<FormState> = {}): void {
  const before = model.state;
  const fields = fieldStates(model, before.fields);
  const complete =
    !model.submission.errors().length &&
    Object.values(fields).every((it) => !it.error && it.asked !== 'asking');
  model.state = { ...before, fields, complete, ...part };
  model.listeners.forEach((listener) => listener());
  if (complete !== before.complete) {
    model.onComplete?.(complete);
  }
}

/** Runs the rules, and publishes what comes of it. */
export function update(model: FormModel, part?: Partial<FormState>): void {
  evaluate(model);
  publish(model, part);
}

/** Gives a field another value, and runs the rules. */
export function change(model: FormModel, name: string, value: Json): void {
  model.values = put(model.values, name, value);
  evaluate(model);
}

/** A typed value gives way to the tidied one; where more than its ends changed, that is said. */
export function tidy(model: FormModel, ruleState: RuleState | undefined): void {
  if (ruleState && isTidied(ruleState)) {
    const { name } = ruleState;
    const now = control(ruleState);
    const said = saidOfTidying(model.description, ruleState, at(model.values, name), now);
    model.values = put(model.values, name, now);
    if (said !== undefined) {
      noteOf(model.notes, name).changed = said;
    }
  }
}

/** Choices that the value of another field rules out are taken out, and that is said. */
export function dropExcluded(model: FormModel, changed: string): void {
  for (const ruleState of model.submission.states) {
    const { name } = ruleState;
    const gone =
      name === changed ? undefined : excluded(model.submission, ruleState, model.mode === 'edit');
    if (gone) {
      change(model, name, gone.left);
      sayDropped(model, name, gone.said);
    }
  }
}

export function sayDropped({ notes, description }: FormModel, name: string, value: string): void {
  noteOf(notes, name).changed = word(description, 'dropped', { value });
}

export function rowsOf(model: FormModel, name: string): Json[] {
  return (at(model.values, name) ?? []) as Json[];
}

/** Other rows: what was noted of them is forgotten, for they are renumbered. */
export function renumber(model: FormModel, name: string, rows: Json[]): void {
  model.touched.add(name);
  forget(model.notes, (it) => it.startsWith(`${name}[`));
  change(model, name, rows);
  publish(model);
}

/** What the record keeps from now on: an edit is compared with it, and judged against it. */
export function keep(model: FormModel, values: Values): void {
  model.kept = values;
  if (model.mode === 'edit') {
    model.context = { ...model.context, mode: 'edit', before: values };
  }
}

/**
 * The service's word on what only it can decide: the form is evaluated anew with it.
 *
 * @param open the fields that it is about
 * @param results undefined if it could not be asked
 */
export function decide(
  model: FormModel,
  open: RuleState[],
  results?: ServerResults | 'asking',
): void {
  const isAsking = results === 'asking';
  // While it is asked anew, fields stay as they were; a rule's error would be of other values.
  const decided = isAsking ? model.server.decided : (results?.decided ?? {});
  const asked = isAsking ? 'asking' : results ? 'free' : 'unanswered';
  model.server = {
    names: open.map((it) => it.name),
    asked: open.length ? asked : 'not',
    decided,
    errors: isAsking ? [] : (results?.errors ?? []),
  };
  model.context = { ...model.context, decided };
  update(model);
}

/** The field that an error of the service is about; undefined if the form has none such here. */
export function aboutField({ submission }: FormModel, error: FieldError): RuleState | undefined {
  return submission.states.find((it) => it.pointer === error.pointer);
}

/** The names of the fields that show an error, in order. */
export function wrong({ state: { fields } }: FormModel): string[] {
  return Object.keys(fields).filter((name) => fields[name]!.error);
}
