import type { Description, Field, Values } from '../description';
import type { FieldState as RuleState } from '../rules/field-states';
import { word } from '../rules/message';
import type { Submission } from '../rules/submission';
import { shown } from '../rules/value';
import { at, fieldAt, own } from '../tree';
import { noteOf, type Note, type Notes } from './notes';
import type { ServerResults } from './server-expressions';
import { control, isSame, type Asked, type FieldState } from './state';

/** What the service said of the expressions that a page cannot evaluate, and where that stands. */
export interface ServerRules extends ServerResults {
  /** The fields that it was asked about. */
  names: string[];
  asked: Asked;
}

/** An evaluated form, as far as the states of its fields come from it. */
export interface Evaluated {
  description: Description;
  submission: Submission;
  /** The typed values. */
  values: Values;
  notes: Notes;
  server: ServerRules;
  /** Returns false if errors of the page's own rules do not show. */
  isRuled: () => boolean;
}

/** The field of a name, which the form must have. */
export function fieldOf({ fields, form }: Description, name: string): Field {
  const field = fieldAt(fields, name);
  if (!field) {
    throw new Error(`The form ${form} has no field "${name}".`);
  }
  return field;
}

/** A field of which nothing is evaluated, such as those of a row in which nothing stands yet. */
export function blankState({ description, values }: Evaluated, name: string): FieldState {
  return {
    field: fieldOf(description, name),
    value: at(values, name),
    asked: 'not',
    said: '',
    hidden: false,
    editable: true,
    required: false,
  };
}

/** The options that are offered just now; nothing for a field whose options never change. */
export function offered(
  { description, submission }: Evaluated,
  name: string,
): string[] | undefined {
  const { options, where } = fieldOf(description, name);
  const ruleState = submission.state(name);
  return ruleState && where !== undefined
    ? options?.map((it) => it.value).filter((it) => submission.isOffered(ruleState, it))
    : undefined;
}

/**
 * The states of all fields, by name.
 *
 * @param before a state that did not change stays the object that it was there
 */
export function fieldStates(
  form: Evaluated,
  before: Record<string, FieldState>,
): Record<string, FieldState> {
  const fields = Object.create(null) as Record<string, FieldState>;
  const add = (name: string, next: FieldState) => {
    const old = own(before, name);
    fields[name] = old && isSame(old, next) ? old : next;
  };
  const addBlank = (outer: string, inside: Field[] = []) =>
    inside.forEach((field) => {
      add(outer + field.name, blankState(form, outer + field.name));
      addBlank(`${outer}${field.name}.`, field.type === 'group' ? field.fields : []);
    });
  for (const ruleState of form.submission.states) {
    const { name, field } = ruleState;
    add(name, fieldState(form, ruleState));
    if (field.type === 'rows') {
      ((at(form.values, name) ?? []) as unknown[]).forEach((_, i) =>
        addBlank(`${name}[${i}].`, field.fields),
      );
    }
  }
  return fields;
}

function fieldState(form: Evaluated, ruleState: RuleState): FieldState {
  const { name, field, value } = ruleState;
  const note = noteOf(form.notes, name);
  const error =
    (note.told?.of === shown(value) ? note.told.error : undefined) ??
    (note.visited && form.isRuled() ? ruleState.error : undefined) ??
    form.server.errors.find((it) => it.pointer === ruleState.pointer);
  const { asked, said } = questions(form, name, note);
  const isComputed = field.compute !== undefined || (ruleState.absent && !field.fields);
  return {
    field,
    value: isComputed ? control(ruleState) : at(form.values, name),
    ...(error && { error }),
    asked,
    said: said || note.changed || '',
    hidden: ruleState.hidden,
    editable: ruleState.editable,
    required: form.submission.isRequired(ruleState),
    offered: offered(form, name),
    length: field.control === 'textarea' ? [...shown(value)].length : undefined,
  };
}

/** What is said of questions about a field: that about its value, else that about its rules. */
function questions({ server, description }: Evaluated, name: string, note: Note) {
  const { names, asked } = server;
  if (note.asked !== 'not' || !names.includes(name) || asked === 'free' || asked === 'not') {
    return note;
  }
  const key = asked === 'asking' ? 'asking-service' : 'unasked-service';
  return { asked, said: word(description, key) };
}
