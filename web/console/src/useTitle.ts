import { useEffect } from 'react';
import { t } from './words';

/** What the browser's tab and a screen reader call the view. */
export function useTitle(view: string): void {
  useEffect(() => {
    document.title = view ? `${view} · ${t('Nodley console')}` : t('Nodley console');
  }, [view]);
}
