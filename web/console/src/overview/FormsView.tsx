import { lazy, Suspense, useContext, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { forms, type FormSummary } from '../api';
import { CallerContext, hasRole } from '../caller';
import { outlets } from '../deliveries';
import { service } from '../service/service';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { byForm, DAY, hours } from './figures';
import { Needs } from './Needs';

// The plots need a library of their own, and the list of forms does not wait for it.
const Plots = lazy(() => import('./Traffic').then((it) => ({ default: it.Traffic })));

/**
 * All forms, with what was sent to them in the last days; first, what needs somebody. It is drawn
 * once all of it is known: what came later would move what somebody is about to press.
 */
export function FormsView() {
  const caller = useContext(CallerContext);
  const isAuthor = hasRole(caller, 'author') && caller.forms.length === 0;
  const isOperator = hasRole(caller, 'operator');
  const listed = useLoaded('forms', forms);
  const until = useMemo(() => Date.now(), []);
  const counted = useLoaded(`hours ${isAuthor}`, async () =>
    isAuthor ? hours(new URLSearchParams({ since: new Date(until - 7 * DAY).toISOString() })) : [],
  );
  const state = useLoaded(`state ${isOperator}`, async () => {
    if (!isOperator) {
      return {};
    }
    const [places, { disk }] = await Promise.all([outlets(), service()]);
    return { places, disk };
  });
  const known = [listed, counted, state].every((it) => !it.loading);
  const idle = useIdle(known);
  useTitle(t('Forms'));
  const traffic = new Map(byForm(counted.value ?? []).map((it) => [it.form, it]));
  const sent = ({ form }: FormSummary) => traffic.get(form)?.sent ?? 0;
  const all = [...(listed.value ?? [])].sort((a, b) => sent(b) - sent(a));
  if (!known) {
    return (
      <>
        <h1>{t('Forms')}</h1>
        <Waiting />
      </>
    );
  }
  return (
    <>
      <h1>{t('Forms')}</h1>
      <Needs counts={counted.value ?? []} until={until} {...state.value} />
      {counted.error && <Failure text={counted.error} again={counted.again} />}
      {state.error && <Failure text={state.error} again={state.again} />}
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
      {listed.error ? (
        <Failure text={listed.error} again={listed.again} />
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
