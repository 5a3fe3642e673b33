import type { Option, Values } from '../description';
import type { Service } from './service';

/** What a field offers, given other values; a field inside others is named by its path. */
export async function options(
  service: Service,
  form: string,
  field: string,
  values: Values = {},
): Promise<Option[]> {
  const query = new URLSearchParams(
    Object.entries(values)
      .filter(([, value]) => value !== null && value !== '' && typeof value !== 'object')
      .map(([name, value]) => [name, String(value)]),
  ).toString();
  const path = `/forms/${form}/options/${field}${query && `?${query}`}`;
  return ((await service.call('GET', path)) as { options: Option[] }).options;
}
