import type { Values } from '../description';
import { changed, merge, numbered, type Difference } from './merging';
import { follow } from '../net/change-stream';
import type { Problem, Service } from '../net/service';
import type { change, FormModel, keep, publish, update } from './form-model';
import type { forget } from './notes';
import type { put } from '../tree';
import type { toSend } from '../rules/verdict';

/** What a record is by now. */
interface Theirs {
  values: Values;
  version: number;
}

/** What this file shares with the one that fetches it. */
interface Shared {
  put: typeof put;
  toSend: typeof toSend;
  change: typeof change;
  keep: typeof keep;
  update: typeof update;
  publish: typeof publish;
  forget: typeof forget;
}

/** Brings together what somebody else has saved and what is typed here. */
export class Conflicts {
  constructor(
    private readonly form: FormModel,
    private readonly service: Service,
    private readonly record: string | undefined,
    private readonly shared: Shared,
  ) {}

  /** Sent again, the form takes the place of theirs: knowingly, for now it is told. */
  async merge(problem?: Problem): Promise<Difference[]> {
    const { form, shared } = this;
    const theirs = await this.#theirs(problem);
    const sent = shared.toSend(form.submission);
    const { fields } = form.description;
    const { values, conflict } = merge(fields, form.kept, theirs.values, sent, form.values);
    form.version = theirs.version;
    form.values = values;
    shared.keep(form, theirs.values);
    // Rows may be others now, and what was noted of them is not of these.
    shared.forget(form.notes, (it) => it.includes('['));
    shared.update(form, { conflict: conflict.length ? conflict : undefined });
    return conflict;
  }

  /**
   * Hears from now on when somebody else saves the record.
   *
   * @returns what ends that
   */
  follow(): () => void {
    const { form, service, record } = this;
    return follow(service.base, form.description.form, record!, (version) => {
      this.#overtake(version).catch(() => undefined);
    });
  }

  /** Somebody else has saved the record: that is told at once, and nothing is done about it. */
  async #overtake(version: number): Promise<void> {
    const { form } = this;
    if (form.state.working || (version <= form.version && version > 0)) {
      return;
    }
    const theirs = version ? (await this.#theirs()).values : form.kept;
    // A save of one's own may have come in between.
    if (version && version <= form.version) {
      return;
    }
    this.shared.publish(form, {
      elsewhere: changed(form.description.fields, form.kept, theirs),
      refused: true,
    });
  }

  /** What the record keeps now; one who may not see it goes by what the refusal tells of it. */
  async #theirs(problem?: Problem): Promise<Theirs> {
    const { put } = this.shared;
    const { form, records } = this.form.description;
    try {
      const record = await this.service.record(form, records === 'one' ? '' : this.record!);
      return { ...record, values: numbered(record, put) };
    } catch (failure) {
      if (!problem) {
        throw failure;
      }
      const values = (problem.fields ?? []).reduce<Values>(
        (all, { pointer, theirs }) => put(all, pointer.slice(2).replaceAll('/', '.'), theirs),
        this.form.kept,
      );
      return { values, version: problem.version! };
    }
  }

  /** Takes over what somebody else has saved, but for what was changed here too. */
  async takeAll(): Promise<void> {
    this.shared.publish(this.form, { elsewhere: undefined, refused: true });
    await this.merge();
  }

  /** Takes over a field, where both changed it. */
  take(name: string): void {
    const { conflict = [] } = this.form.state;
    const [taken] = conflict.filter((it) => it.name === name);
    const left = conflict.filter((it) => it !== taken);
    this.shared.change(this.form, name, taken!.theirs ?? '');
    this.shared.publish(this.form, { conflict: left.length ? left : undefined });
  }
}
