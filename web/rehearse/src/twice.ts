import type { Bound } from './panel';
import { say } from './words';

/** What one side is answered. */
interface Answer {
  status: number;
  said: string;
  codes: string[];
}

/**
 * Sends what is typed from two sides at the same moment, past all that is rehearsed: of what stands only once the index
 * decides, of an edit the version. One of the two may be kept.
 */
export async function twice(
  fetch: typeof window.fetch,
  origin: string,
  { form, opened }: Bound,
): Promise<string[]> {
  const record = form.dataset['record'];
  const version = form.querySelector<HTMLInputElement>('[name=_version]')?.value ?? '';
  const path = `${origin}/api/forms/${opened.description.form}/records`;
  const shown = form.dataset['pass'];
  const pass: Record<string, string> = shown ? { Authorization: `Bearer ${shown}` } : {};
  const body = JSON.stringify(opened.typed());
  const send = async (): Promise<Answer> =>
    answer(
      await (record
        ? fetch(`${path}/${record}`, {
            method: 'PATCH',
            headers: {
              'Content-Type': 'application/merge-patch+json',
              'If-Match': `"${version}"`,
              ...pass,
            },
            body,
          })
        : fetch(path, {
            method: 'POST',
            headers: { 'Content-Type': 'application/json', ...pass },
            body,
          })),
    );
  const sides = await Promise.all([send(), send()]);
  return [
    `${say('one-side')}: ${line(sides[0])}`,
    `${say('other-side')}: ${line(sides[1])}`,
    decided(sides),
  ];
}

async function answer(response: Response): Promise<Answer> {
  const reply = (await response.json()) as {
    id?: string;
    version?: number;
    title?: string;
    errors?: { code: string; detail: string }[];
  };
  const errors = reply.errors ?? [];
  return {
    status: response.status,
    said:
      errors.map(({ detail }) => detail).join(' ') ||
      (response.ok ? `${reply.id}, ${say('version')} ${reply.version}` : (reply.title ?? '')),
    codes: errors.map(({ code }) => code),
  };
}

const line = ({ status, said }: Answer) => `${status}, ${said}`;

/** Who has decided between the two. */
export function decided(sides: Answer[]): string {
  const kept = sides.filter(({ status }) => status < 300).length;
  if (kept === 2) {
    return say('both-kept');
  }
  if (kept === 0) {
    return say('neither-kept');
  }
  const lost = sides.find(({ status }) => status >= 300)!;
  if (lost.codes.includes('taken')) {
    return say('index-decided');
  }
  return lost.status === 412 ? say('version-decided') : say('one-kept');
}
