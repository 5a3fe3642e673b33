import { useEffect } from 'react';

/** What the browser's tab and a screen reader call the view. */
export function useTitle(view: string): void {
  useEffect(() => {
    document.title = view ? `${view} · Nodley console` : 'Nodley console';
  }, [view]);
}
