import type { Answer, Ask } from './exchange';
import { say } from './words';

interface Kept {
  called?: string;
  version: number;
  values: Record<string, unknown>;
}

/**
 * The record as it stands in the store after the last exchange: the one that was kept; or, where
 * something is taken, the one that has it. Nothing of what the developer may not see.
 */
export async function inStore(answer: Answer, form: string, ask: Ask): Promise<string[]> {
  const kept = await found(answer, form, ask).catch(() => undefined);
  return kept
    ? [
        `${say('in-the-store')}: ${kept.called ?? ''}, ${say('version')} ${kept.version}`,
        JSON.stringify(kept.values, null, 2),
      ]
    : [];
}

async function found(answer: Answer, form: string, ask: Ask): Promise<Kept | undefined> {
  if (answer.id) {
    return ask<Kept>(`/forms/${form}/records/${answer.id}`);
  }
  const taken = answer.errors?.find(({ code }) => code === 'taken');
  const [, field] = /^#\/(\w+)$/.exec(taken?.pointer ?? '') ?? [];
  const value = taken?.params?.value;
  if (!field || value === undefined) {
    return undefined;
  }
  const where = encodeURIComponent(`${field} = ${JSON.stringify(value)}`);
  const { records } = await ask<{ records: Kept[] }>(
    `/forms/${form}/records?limit=1&where=${where}`,
  );
  return records[0];
}
