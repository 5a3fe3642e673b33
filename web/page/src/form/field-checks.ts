import { more } from '../extras';
import type { FieldError } from '../description';
import type { Service } from '../net/service';
import type { FieldState as RuleState } from '../rules/field-states';
import { asksEarly, isAsKept, partners, toAsk, questions } from '../rules/unique-keys';
import { shown } from '../rules/value';
import type { Dispatch } from './events';
import { change, publish, update, type FormModel } from './form-model';
import { noteOf, type Note } from './notes';
import type { Asked, OpenOptions } from './state';
import type { UniqueChecks } from './unique-checks';

/** While a person types, the rules run once so many milliseconds are over. */
const PAUSE = 400;

const NOT_ASKED = { asked: 'not', said: '' } satisfies Partial<Note>;

export type FieldChecks = ReturnType<typeof fieldChecks>;

/** Decides when a field is checked while the form is filled in, and when the service is asked whether its value is free. */
export function fieldChecks(
  model: FormModel,
  { slow = 300, record }: OpenOptions,
  service: Service,
  dispatch: Dispatch,
) {
  const { notes } = model;
  const timers: Record<string, ReturnType<typeof setTimeout>> = {};
  let unique: UniqueChecks | undefined;

  /** A check that was to come later does not. */
  const stop = (name: string) => clearTimeout(timers[name]);

  const later = (name: string, task: (name: string) => void) => {
    stop(name);
    timers[name] = setTimeout(task, PAUSE, name);
  };

  /** What the service said of values is said no more: they are others now. */
  const forget = (states: RuleState[]) =>
    states.forEach(({ name }) => {
      unique?.end(name);
      Object.assign(noteOf(notes, name), NOT_ASKED, { told: undefined });
    });

  /** The fields that are unique together with another. */
  const sharing = (name: string) =>
    model.submission.states.filter(({ field }) =>
      questions(field).some((it) => partners(it).includes(name)),
    );

  /** Another value was typed: what is known of it, and of what is unique together with it, was of the one before. */
  const typing = (name: string) => {
    unique?.end(name);
    // An error that shows is judged anew; one that does not yet, waits until the field is left.
    const visited = Boolean(model.state.fields[name]?.error);
    Object.assign(noteOf(notes, name), NOT_ASKED, { changed: undefined, visited });
    forget(sharing(name));
  };

  /** It was typed, and the rules have run. */
  const typed = (name: string) => {
    stop(name);
    if (model.submission.state(name)?.field.check === 'typing') {
      later(name, check);
    }
  };

  /** Runs the rules of some fields, and asks the service of those that are unique. */
  const check = (...names: string[]) => {
    for (const name of names) {
      const note = noteOf(notes, name);
      note.visited = true;
      if (note.told?.error.code === 'held') {
        // Whoever held it may have released it.
        note.told = undefined;
      }
    }
    update(model);
    for (const name of names) {
      dispatch('checked', { name, error: model.state.fields[name]?.error });
      askAll(name);
    }
  };

  /** Shows an error of the service at a field. */
  const refuse = ({ name, value }: RuleState, error: FieldError) => {
    const told = { error, of: shown(value) };
    Object.assign(noteOf(notes, name), NOT_ASKED, { told, visited: true });
    publish(model);
    dispatch('checked', { name, error });
  };

  /** Asks the service about a value that is unique, and about those that are so together with it. */
  const askAll = (name: string) => {
    for (const ruleState of [model.submission.state(name), ...sharing(name)]) {
      if (ruleState && !model.state.fields[ruleState.name]?.error && isWorthAsking(ruleState)) {
        tell(ruleState, 'asking');
        ask(ruleState).catch(() => tell(ruleState, 'unanswered'));
      }
    }
  };

  const isWorthAsking = (ruleState: RuleState) =>
    (model.mode === 'add' || !isAsKept(model.before, model.submission, ruleState)) &&
    asksEarly(model.submission, ruleState) &&
    noteOf(notes, ruleState.name).asked === 'not';

  const ask = async (ruleState: RuleState) => {
    const values = toAsk(model.submission, ruleState);
    const { UniqueChecks } = await more();
    unique ??= new UniqueChecks(
      model,
      service,
      record,
      (asked, reply) => (typeof reply === 'string' ? tell(asked, reply) : refuse(asked, reply)),
      { change, noteOf, publish },
    );
    if (noteOf(notes, ruleState.name).asked === 'asking') {
      const hold = questions(ruleState.field).some((it) => it.hold);
      await unique.ask(ruleState, values, hold);
    }
  };

  /** Says where the question about a value stands. */
  const tell = (ruleState: RuleState, asked: Asked) => {
    const { name } = ruleState;
    const note = noteOf(notes, name);
    Object.assign(note, { asked, said: '' });
    const say = () => {
      if (note.asked === asked) {
        note.said = asked === 'not' ? '' : model.submission.said(ruleState, asked);
        publish(model);
      }
    };
    publish(model);
    if (asked === 'asking') {
      // A quick answer comes before anybody need be told that it is awaited.
      timers[`?${name}`] = setTimeout(say, slow);
    } else {
      say();
      dispatch('checked', { name });
    }
  };

  /** No check that is under way, or was to come, says anything any more. */
  const end = () => {
    Object.values(timers).forEach(clearTimeout);
    forget(model.submission.states);
  };

  // Nobody has been there, and whether it is free can be said all the same.
  model.onSuggested = (ruleState) => {
    forget([ruleState]);
    later(ruleState.name, askAll);
  };

  return {
    typing,
    typed,
    stop,
    check,
    refuse,
    /** The name of the page, if values are held for it. */
    page: () => unique?.page,
    end,
    close: () => {
      end();
      unique?.close();
    },
  };
}
