import type { Field, Json } from 'nodley-page';
import { t } from '../words';

/** A value as a table shows it: the label of an option, yes or no, with the unit behind it. */
export function shown(field: Field, value: Json): string {
  if (value === undefined || value === null) {
    return '';
  }
  if (typeof value === 'boolean') {
    return value ? t('yes') : t('no');
  }
  if (Array.isArray(value)) {
    return value.map((item) => shown(field, item as Json)).join(', ');
  }
  if (typeof value === 'object') {
    return field.type === 'file'
      ? String((value as { name?: string }).name ?? '')
      : grouped(field, value);
  }
  const label = field.options?.find((option) => option.value === value)?.label ?? String(value);
  return field.unit ? `${label} ${field.unit}` : label;
}

function grouped(field: Field, value: object): string {
  return (field.fields ?? [])
    .map((inner) => shown(inner, (value as Record<string, Json>)[inner.name]))
    .filter(Boolean)
    .join(', ');
}

/** The value at a dotted path. */
export function at(values: Record<string, Json>, path: string): Json {
  return path
    .split('.')
    .reduce<Json>(
      (here, name) => (here as Record<string, Json> | null | undefined)?.[name],
      values as Json,
    );
}

/** What stands at a pointer, such as `#/crew/0/name`: its field, and how a person calls it. */
export function fieldAt(
  fields: Field[],
  pointer: string,
): { field: Field; label: string } | undefined {
  let inside = fields;
  let field: Field | undefined;
  const labels: string[] = [];
  for (const part of pointer.replace(/^#\/?/, '').split('/')) {
    if (/^\d+$/.test(part)) {
      labels.push(String(Number(part) + 1));
      continue;
    }
    field = inside.find((it) => it.name === part);
    if (!field) {
      return undefined;
    }
    labels.push(field.label);
    inside = field.fields ?? [];
  }
  return field && { field, label: labels.join(' · ') };
}
