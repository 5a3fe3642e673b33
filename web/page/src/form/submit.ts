import { more } from '../extras';
import type { Values } from '../description';
import { Refusal, type Accepted, type Problem, type Service } from '../net/service';
import { word } from '../rules/message';
import { toSend } from '../rules/verdict';
import { put } from '../tree';
import type { Conflicts } from './conflicts';
import type { Dispatch } from './events';
import type { FieldChecks } from './field-checks';
import { aboutField, evaluate, keep, publish, tidy, wrong, type FormModel } from './form-model';
import { noteOf } from './notes';
import type { OpenOptions, Outcome } from './state';

/**
 * Sends a form, once at a time: shows what is wrong before, and at its fields what the service finds wrong.
 *
 * @param conflicts brings together what others saved and what is typed here
 */
export function submitter(
  model: FormModel,
  options: OpenOptions,
  service: Service,
  dispatch: Dispatch,
  checks: FieldChecks,
  conflicts: () => Promise<Conflicts>,
) {
  let key = options.key || newKey();

  /** What is sent next is another submission than before. */
  const renew = () => {
    key = newKey();
  };

  const submit = async (): Promise<Outcome> => {
    if (model.state.working) {
      return { kind: 'ignored' };
    }
    if (!showAll()) {
      publish(model, { refused: true, others: model.submission.overall.map((it) => it.detail) });
      return refused(false);
    }
    const values = toSend(model.submission);
    if (!dispatch('sending', { values }, true)) {
      return { kind: 'ignored' };
    }
    publish(model, { working: true, others: [], conflict: undefined, elsewhere: undefined });
    const slow = setTimeout(() => publish(model, { slow: true }), options.slow ?? 300);
    try {
      const record = await send(values);
      await accept(record);
      dispatch('accepted', { record });
      return { kind: 'accepted', record };
    } catch (failure) {
      publish(model, { refused: true });
      if (!(failure instanceof Refusal)) {
        const own = options.send && (failure as Error).message;
        publish(model, { others: [own || word(model.description, 'unreached')] });
        dispatch('failed', { failure });
        return { kind: 'refused' };
      }
      if (await isMerged(failure.problem)) {
        publish(model, { working: false });
        return await submit();
      }
      return refused();
    } finally {
      clearTimeout(slow);
      publish(model, { working: false, slow: false });
    }
  };

  /** Every error shows, and values stand as tidied; true if there is no error. */
  const showAll = () => {
    for (const ruleState of model.submission.states) {
      noteOf(model.notes, ruleState.name).visited = true;
      if (!ruleState.hidden) {
        tidy(model, ruleState);
      }
    }
    evaluate(model);
    return !model.isRuled() || !model.submission.errors().length;
  };

  const refused = (service = true): Outcome => {
    const { fields, others } = model.state;
    const errors = wrong(model).map((name) => fields[name]!.error);
    dispatch('refused', { service, errors, others });
    return { kind: 'refused' };
  };

  const send = async (values: Values): Promise<Accepted> => {
    const { form, records } = model.description;
    if (options.send) {
      const nothing = { id: '', version: 0, called: '', values, after: { go: '', say: '' } };
      return (await options.send(values, key)) ?? nothing;
    }
    const isOne = records === 'one';
    if (model.mode === 'add') {
      return isOne
        ? service.first(form, values, key)
        : service.add(form, values, key, checks.page());
    }
    const { patch } = await more();
    const record = isOne ? '' : options.record!;
    const part = patch(model.kept, values);
    return service.edit(form, record, model.version, part, key, checks.page());
  };

  /** What the service said of values is said no more: it has said something else of all of them. */
  const forgetErrors = () => model.notes.forEach((note) => (note.told = undefined));

  /** What was sent is kept now. */
  const accept = async (record: Accepted) => {
    model.touched.clear();
    forgetErrors();
    model.version = record.version;
    let kept = record.values;
    if (record.rows) {
      const { numbered, renumbered } = await more();
      kept = numbered(record, put);
      model.values = renumbered(record.rows, model.values, model.submission.states, put);
    }
    keep(model, kept);
    if (model.mode === 'edit') {
      // What is edited from here next is another submission.
      renew();
    }
    publish(model, { refused: false });
  };

  /** Shows why the service refused; true if what others saved is merged, and the form can be sent again. */
  const isMerged = async (problem: Problem) => {
    if (problem.type === '/problems/no-such-record') {
      publish(model, { elsewhere: [] });
    } else if (problem.version) {
      if (model.mode === 'add') {
        // Somebody else's first save came before this one.
        model.mode = 'edit';
        model.kept = toSend(model.before);
      }
      return !(await (await conflicts()).merge(problem)).length;
    } else {
      place(problem);
      if (problem.type === '/problems/key-reused') {
        // Somebody came back to what was accepted, and sends something else.
        renew();
        publish(model, { others: [word(model.description, 'sent')] });
      }
    }
    return false;
  };

  /** Puts the service's errors beside their fields; errors without a field here go above them all. */
  const place = ({ errors, detail, title }: Problem) => {
    forgetErrors();
    const others = errors ? [] : [detail ?? title];
    for (const error of errors ?? []) {
      const ruleState = aboutField(model, error);
      if (ruleState) {
        checks.refuse(ruleState, error);
      } else {
        others.push(error.detail);
      }
    }
    publish(model, { others });
  };

  return { submit, renew };
}

/** 128 random bits; `randomUUID` is there for pages that came by https only. */
function newKey(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((it) => it.toString(36)).join('-');
}
