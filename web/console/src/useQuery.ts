import { useSearchParams } from 'react-router';

/** What of the address stands behind the question mark, so that a view can be sent to a colleague. */
export interface AskedFor {
  get: (name: string) => string;
  /** Sets some; an empty text takes one away. */
  set: (values: Record<string, string>) => void;
  /** The same, of what changes with each key: to go back leads to the view before. */
  type: (values: Record<string, string>) => void;
}

export function useQuery(): AskedFor {
  const [params, setParams] = useSearchParams();
  const put = (values: Record<string, string>, replace: boolean) =>
    setParams((before) => changed(before, values), { replace });
  return {
    get: (name) => params.get(name) ?? '',
    set: (values) => put(values, false),
    type: (values) => put(values, true),
  };
}

function changed(before: URLSearchParams, values: Record<string, string>): URLSearchParams {
  const next = new URLSearchParams(before);
  for (const [name, value] of Object.entries(values)) {
    if (value) {
      next.set(name, value);
    } else {
      next.delete(name);
    }
  }
  return next;
}
