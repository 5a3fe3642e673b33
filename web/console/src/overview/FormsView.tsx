import { lazy, Suspense, useContext, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { forms, type FormSummary } from '../api';
import { CallerContext, hasRole } from '../caller';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { byForm, DAY, hours } from './figures';

// The plots need a library of their own, and the list of forms does not wait for it.
const Plots = lazy(() => import('./Traffic').then((it) => ({ default: it.Traffic })));
const Needs = lazy(() => import('./Needs').then((it) => ({ default: it.Needs })));

/** All forms, with what was sent to them in the last days; first, what needs somebody. */
export function FormsView() {
  const caller = useContext(CallerContext);
  const isAuthor = hasRole(caller, 'author') && caller.forms.length === 0;
  const isOperator = hasRole(caller, 'operator');
  const loaded = useLoaded('forms', forms);
  const until = useMemo(() => Date.now(), []);
  const counted = useLoaded(`hours ${isAuthor}`, async () =>
    isAuthor ? hours(new URLSearchParams({ since: new Date(until - 7 * DAY).toISOString() })) : [],
  );
  useTitle(t('Forms'));
  const idle = useIdle(loaded.value !== undefined);
  const traffic = new Map(byForm(counted.value ?? []).map((it) => [it.form, it]));
  const sent = ({ form }: FormSummary) => traffic.get(form)?.sent ?? 0;
  const all = [...(loaded.value ?? [])].sort((a, b) => sent(b) - sent(a));
  return (
    <>
      <h1>{t('Forms')}</h1>
      {idle && (isOperator || isAuthor) && (
        <Suspense fallback={null}>
          <Needs counts={counted.value ?? []} until={until} operator={isOperator} />
        </Suspense>
      )}
      {isAuthor && counted.error && <Failure text={counted.error} again={counted.again} />}
      {isAuthor && (
        <section className="plots-first">
          {counted.value && idle && (
            <Suspense fallback={null}>
              <Plots counts={counted.value} until={until} />
            </Suspense>
          )}
        </section>
      )}
      {isAuthor && (
        <div className="tools">
          <h2>{t('All forms')}</h2>
          <Link to="/new-form">{t('Begin a new form')}</Link>
        </div>
      )}
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : !loaded.value ? (
        <Waiting />
      ) : all.length === 0 ? (
        <p className="empty">{t('No form is published yet. Publish one: ./nodley publish FILE')}</p>
      ) : (
        <Table forms={all} {...(isAuthor && { traffic })} />
      )}
    </>
  );
}

/** A table of the browser's own: the first view is there before Ant Design's is loaded. */
function Table({ forms: all, traffic }: { forms: FormSummary[]; traffic?: Traffic }) {
  return (
    <div className="scrolled" tabIndex={0} role="region" aria-label={t('Forms')}>
      <table className="plain">
        <thead>
          <tr>
            <th scope="col">{t('Title')}</th>
            <th scope="col">{t('Form')}</th>
            <th scope="col">{t('Revision')}</th>
            <th scope="col">{t('Fields')}</th>
            <th scope="col">{t('Records')}</th>
            {traffic && <th scope="col">{t('Sent in 7 days')}</th>}
            {traffic && <th scope="col">{t('Refused')}</th>}
          </tr>
        </thead>
        <tbody>
          {all.map(({ form, title, revision, fields, records }) => (
            <tr key={form}>
              <td>
                <Link to={`/forms/${form}`}>{title}</Link>
              </td>
              <td>
                <code>{form}</code>
              </td>
              <td>{revision}</td>
              <td>{fields}</td>
              <td>{records}</td>
              {traffic && <td>{traffic.get(form)?.sent ?? 0}</td>}
              {traffic && (
                <td>
                  <Link to={`/attempts?form=${form}&verdict=refused`}>
                    {traffic.get(form)?.refused ?? 0}
                    <span className="unseen"> {t('refused of {form}', { form: title })}</span>
                  </Link>
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What was sent to each form. */
type Traffic = Map<string, { sent: number; refused: number }>;

/** True once the browser has nothing better to do. */
function useIdle(ready: boolean): boolean {
  const [idle, setIdle] = useState(false);
  useEffect(() => {
    if (!ready) {
      return;
    }
    const id = requestIdleCallback(() => setIdle(true), { timeout: 2_000 });
    return () => cancelIdleCallback(id);
  }, [ready]);
  return idle;
}
