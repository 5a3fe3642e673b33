import type { Description, Field } from 'nodley-page';
import { t } from '../words';

/** So many fields beside its name say enough of a record in a list, until somebody chooses. */
const USUAL = 4;

/** A column that a list of records can have. */
export interface Column {
  /** The dotted path of a field; or `changed`, `created`, `version`, `confirmed`. */
  path: string;
  title: string;
  field?: Field;
  /** What `sort` calls it; left out where nothing sorts by it. */
  sort?: string;
}

const SORTED = /^(text|email|url|phone|integer|decimal|boolean|date|time|datetime|record)$/;

/** All columns of a form, in the order of its fields; those that are no fields come last. */
export function columnsOf(description: Description): Column[] {
  return [
    ...ofFields(description.fields, '', ''),
    { path: 'changed', title: t('Changed'), sort: 'updatedAt' },
    { path: 'created', title: t('Added'), sort: 'createdAt' },
    ...(description.confirms
      ? [{ path: 'confirmed', title: t('Confirmed'), sort: 'confirmedAt' }]
      : []),
    { path: 'version', title: t('Version') },
  ];
}

function ofFields(fields: Field[], before: string, label: string): Column[] {
  return fields.flatMap((field) => {
    const path = before + field.name;
    const title = label ? `${label} · ${field.label}` : field.label;
    if (field.type === 'group') {
      return ofFields(field.fields ?? [], `${path}.`, title);
    }
    return field.kept === false || field.type === 'secret'
      ? []
      : [{ path, title, field, ...(SORTED.test(field.type) && { sort: path }) }];
  });
}

/** The columns of a list for whoever has chosen none: the first fields that the record's name does not say already. */
export function usual({ called, fields }: Description): string[] {
  return [
    ...fields
      .filter((field) => !called?.includes(`{${field.name}}`))
      .filter((field) => !field.refersTo && !field.fields && field.kept !== false)
      .filter((field) => !['textarea', 'secret', 'file'].includes(field.control))
      .slice(0, USUAL)
      .map(({ name }) => name),
    'changed',
    'version',
  ];
}

const key = (form: string) => `nodley-console-columns:${form}`;

/** The columns that were chosen here before. */
export function remembered(form: string): string[] | undefined {
  const text = localStorage.getItem(key(form));
  return text ? text.split(',') : undefined;
}

export function remember(form: string, columns: string[]): void {
  localStorage.setItem(key(form), columns.join(','));
}
