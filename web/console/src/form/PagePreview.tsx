import { Alert } from 'antd';
import { useRef, useState } from 'react';
import { useLoaded } from '../useLoaded';
import { CHOICES, t } from '../words';
import { pageOf, shared, type Meeting } from './files';
import { languagesOf } from './texts';

interface Props {
  form: string;
  /** The last text in which the reader found nothing wrong. */
  text: string;
  type: string;
  /** False for a form that has no texts in other languages yet. */
  published?: boolean;
  /** In place of the form's own, at first. */
  theme?: string;
}

/** The page of a form file while it is edited, as a person would meet it; the service draws it. */
export function PagePreview({ form, text, type, published = true, theme = '' }: Props) {
  const [met, setMet] = useState<Meeting>({ mode: 'add', language: '', theme });
  const choices = useLoaded(`meeting ${form}`, async () => ({
    languages: published ? await languagesOf(form) : [],
    themes: (await shared('themes')).map(({ name }) => name),
  }));
  const page = useLoaded(`${JSON.stringify(met)} ${type} ${form} ${text}`, async () =>
    still(await pageOf(form, text, type, met)),
  );
  const frame = useRef<HTMLIFrameElement>(null);
  const scrolled = useRef(0);
  const languages = new Set([
    ...CHOICES.map(({ value }) => value as string),
    ...(choices.value?.languages ?? []),
  ]);
  return (
    <section className="page-preview" aria-label={t('The page')}>
      <div className="actions">
        <label>
          {t('Page for')}{' '}
          <select
            value={met.mode}
            onChange={({ target }) => setMet({ ...met, mode: target.value as Meeting['mode'] })}
          >
            <option value="add">{t('adding')}</option>
            <option value="edit">{t('editing')}</option>
          </select>
        </label>
        <label>
          {t('Language')}{' '}
          <select
            value={met.language}
            onChange={({ target }) => setMet({ ...met, language: target.value })}
          >
            <option value="">{t('of your browser')}</option>
            {[...languages].map((it) => (
              <option key={it}>{it}</option>
            ))}
          </select>
        </label>
        <label>
          {t('Theme')}{' '}
          <select
            value={met.theme}
            onChange={({ target }) => setMet({ ...met, theme: target.value })}
          >
            <option value="">{t('of the form file')}</option>
            {(choices.value?.themes ?? []).map((it) => (
              <option key={it}>{it}</option>
            ))}
          </select>
        </label>
      </div>
      {(page.error ?? choices.error) && (
        <Alert type="error" role="alert" title={page.error ?? choices.error} />
      )}
      <iframe
        ref={frame}
        title={t('The page as a person meets it')}
        // Its styles are the service's own; no script runs in it, and nothing is sent from it.
        sandbox="allow-same-origin"
        srcDoc={page.value ?? ''}
        onLoad={() => {
          const view = frame.current?.contentWindow;
          view?.scrollTo(0, scrolled.current);
          view?.addEventListener('scroll', () => (scrolled.current = view.scrollY));
        }}
      />
    </section>
  );
}

/** The page without its scripts, and with nothing in it that could be pressed. */
function still(html: string): string {
  const page = new DOMParser().parseFromString(html, 'text/html');
  page.querySelectorAll('script').forEach((it) => it.remove());
  page.body.inert = true;
  return `<!doctype html>${page.documentElement.outerHTML}`;
}
