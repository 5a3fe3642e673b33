import { Refusal } from 'nodley-page';
import { useCallback, useEffect, useState } from 'react';
import { t } from './words';

/** What a view waits for: nothing yet, an error in words, or the thing itself. */
export interface Loaded<T> {
  value?: T;
  error?: string;
  loading: boolean;
  again: () => void;
}

/** Loads when `key` changes, or on demand; a reply that comes late is dropped. */
export function useLoaded<T>(key: string, load: () => Promise<T>): Loaded<T> {
  const [turn, setTurn] = useState(0);
  const [state, setState] = useState<{ value?: T; error?: string; loading: boolean }>({
    loading: true,
  });
  useEffect(() => {
    let current = true;
    setState((before) => ({ ...before, loading: true }));
    load().then(
      (value) => current && setState({ value, loading: false }),
      (failure: unknown) => current && setState({ error: inWords(failure), loading: false }),
    );
    return () => {
      current = false;
    };
    // The key says all that `load` depends on.
  }, [key, turn]);
  const again = useCallback(() => setTurn((it) => it + 1), []);
  return { ...state, again };
}

export function inWords(failure: unknown): string {
  return failure instanceof Refusal
    ? failure.message
    : t('The service cannot be reached. Try again in a moment.');
}
