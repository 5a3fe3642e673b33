import type { Description, Values } from '../description';
import { changed, merge, numbered, type Difference } from './merging';
import type { Problem, Service } from '../net/service';
import type { FormState } from './state';
import type { put } from '../tree';

/** What an opened edit lets be seen and changed where somebody else saves the same record. */
export interface Held {
  /** The record's values as both began from them, and its version then. */
  kept: Values;
  version: number;
  /** What is typed, as it stands in the controls, and as it would be sent. */
  typed: Values;
  sent: Values;
  state: FormState;
}

type Put = typeof put;

/** What a record is by now. */
interface Theirs {
  values: Values;
  version: number;
}

/** Brings together what somebody else has saved and what is typed here. */
export class Conflicts {
  constructor(
    private readonly description: Description,
    private readonly service: Service,
    private readonly record: string | undefined,
    private readonly held: () => Held,
    private readonly take: (theirs: Theirs, merged: Values) => void,
    private readonly tell: (part: Partial<FormState>) => void,
    private readonly put: Put,
  ) {}

  /** Sent again, the form takes the place of theirs: knowingly, for now it is told. */
  async merge(problem?: Problem): Promise<Difference[]> {
    const theirs = await this.#theirs(problem);
    const { kept, sent, typed } = this.held();
    const { values, conflict } = merge(this.description.fields, kept, theirs.values, sent, typed);
    this.take(theirs, values);
    this.tell({ conflict: conflict.length ? conflict : undefined });
    return conflict;
  }

  /** Somebody else has saved the record: that is told at once, and nothing is done about it. */
  async overtake(version: number): Promise<void> {
    const before = this.held();
    if (before.state.working || (version <= before.version && version > 0)) {
      return;
    }
    const theirs = version ? (await this.#theirs()).values : before.kept;
    // A save of one's own may have come in between.
    if (version && version <= this.held().version) {
      return;
    }
    this.tell({
      elsewhere: changed(this.description.fields, this.held().kept, theirs),
      refused: true,
    });
  }

  /** What the record keeps now; one who may not see it goes by what the refusal tells of it. */
  async #theirs(problem?: Problem): Promise<Theirs> {
    const { form, records } = this.description;
    try {
      const record = await this.service.record(form, records === 'one' ? '' : this.record!);
      return { ...record, values: numbered(record, this.put) };
    } catch (failure) {
      if (!problem) {
        throw failure;
      }
      const values = (problem.fields ?? []).reduce<Values>(
        (all, { pointer, theirs }) => this.put(all, pointer.slice(2).replaceAll('/', '.'), theirs),
        this.held().kept,
      );
      return { values, version: problem.version! };
    }
  }

  /** Takes over what somebody else has saved, but for what was changed here too. */
  async takeAll(): Promise<void> {
    this.tell({ elsewhere: undefined, refused: true });
    await this.merge();
  }
}
