import { judge } from '../rules/verdict';
import { OpenForm } from './open-form';
import type { OpenOptions } from './state';
import { Service, type Token } from '../net/service';
import { more, valuesWithRows } from '../extras';

/** How a form is opened from code. */
export interface From extends Partial<Omit<OpenOptions, 'mode' | 'service' | 'key'>> {
  /** Where the service is, such as `https://forms.example`; left out, where the page came from. */
  at?: string;
  /** What texts are wanted in, a BCP 47 tag. */
  language?: string;
  /** A program's key. */
  key?: string;
  /** A person's pass, or what gives a fresh one when it is about to end. */
  pass?: string | Token;
}

/**
 * Opens a form, to add a record or, with `record`, to edit one. Nothing of it needs a page.
 *
 * @throws Refusal if there is no such form or record, or it is not open to the caller
 */
export async function open(form: string, from: From = {}): Promise<OpenForm> {
  const { at = '', language = '', key = '', pass, record, ...options } = from;
  const token = typeof pass === 'function' ? (await more()).renewed(pass) : () => pass ?? key;
  const service = new Service(`${at}/api`, language, token);
  const description = await service.describe(form);
  if (record === undefined) {
    const { values } = judge(description, {});
    return new OpenForm(description, { mode: 'add', values, service, ...options });
  }
  const kept = await service.record(form, record);
  const { version } = kept;
  const values = await valuesWithRows(kept);
  return new OpenForm(description, {
    mode: 'edit',
    values,
    version,
    record,
    service,
    follow: true,
    ...options,
  });
}
