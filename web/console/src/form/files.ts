import { json } from '../access';
import { call } from '../api';

/** What is wrong at a place of a form file, in the reader's words. */
export interface FileError {
  line: number;
  column: number;
  pointer: string;
  code: string;
  detail: string;
  suggestion?: string;
}

export interface Warning {
  pointer: string;
  code: string;
  detail: string;
}

/** A form file as it is published. */
export interface FormFile {
  text: string;
  type: string;
  /** Says later which text was looked at. */
  tag: string;
}

/** What publishing does, or would do. */
export interface Published {
  revision: number;
  change: 'new' | 'revised' | 'unchanged';
  changes: { form: string; field: string; change: string; detail: string }[];
  objections: Objection[];
  fallsShort: Objection[];
  warnings: Warning[];
}

export interface Objection {
  form: string;
  field: string;
  detail: string;
  count?: number;
}

export interface Revision {
  revision: number;
  publishedAt: string;
  current: boolean;
}

export async function fileOf(form: string, revision?: number): Promise<FormFile> {
  const path = revision === undefined ? 'file' : `revisions/${revision}`;
  const reply = await call(`/forms/${form}/${path}`);
  return {
    text: await reply.text(),
    type: reply.headers.get('Content-Type') ?? 'application/yaml',
    tag: reply.headers.get('ETag') ?? '',
  };
}

const sent = (text: string, type: string, tag = ''): RequestInit => ({
  body: text,
  headers: { 'Content-Type': type, ...(tag && { 'If-Match': tag }) },
});

export async function lint(
  form: string,
  text: string,
  type: string,
): Promise<{ errors: FileError[]; warnings: Warning[] }> {
  const reply = await call(`/forms/${form}/lint`, { method: 'POST', ...sent(text, type) });
  return (await reply.json()) as { errors: FileError[]; warnings: Warning[] };
}

export async function preview(form: string, { text, type }: FormFile): Promise<Published> {
  const reply = await call(`/forms/${form}/preview`, { method: 'POST', ...sent(text, type) });
  return (await reply.json()) as Published;
}

/** Publishes a text, if the one that is published now is the one that was looked at. */
export async function publish(
  form: string,
  { text, type, tag }: FormFile,
  force: boolean,
): Promise<Published> {
  const reply = await call(`/forms/${form}${force ? '?force=rules' : ''}`, {
    method: 'PUT',
    ...sent(text, type, tag),
  });
  return (await reply.json()) as Published;
}

export const revisions = async (form: string) =>
  (await json<{ revisions: Revision[] }>(`/forms/${form}/revisions`)).revisions;
export const backTo = (form: string, revision: number) =>
  json<Published>(`/forms/${form}/revisions/${revision}/current`, 'PUT');
