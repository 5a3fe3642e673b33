import { Empty, Table, Typography } from 'antd';
import { lazy, Suspense, useContext, useMemo } from 'react';
import { Link } from 'react-router';
import { forms, type FormSummary } from '../api';
import { CallerContext, hasRole } from '../caller';
import { Scrolled } from '../Scrolled';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { byForm, DAY, hours } from './figures';

// The plots need a library of their own, and the list of forms does not wait for it.
const Traffic = lazy(() => import('./Traffic').then((it) => ({ default: it.Traffic })));
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
  const traffic = new Map(byForm(counted.value ?? []).map((it) => [it.form, it]));
  const sent = ({ form }: FormSummary) => traffic.get(form)?.sent ?? 0;
  const all = [...(loaded.value ?? [])].sort((a, b) => sent(b) - sent(a));
  return (
    <>
      <Typography.Title level={1}>{t('Forms')}</Typography.Title>
      {(isOperator || isAuthor) && (
        <Suspense fallback={null}>
          <Needs counts={counted.value ?? []} until={until} operator={isOperator} />
        </Suspense>
      )}
      {isAuthor && counted.error && <Failure text={counted.error} again={counted.again} />}
      {isAuthor && counted.value && (
        <Suspense fallback={<Waiting />}>
          <Traffic counts={counted.value} until={until} />
        </Suspense>
      )}
      {isAuthor && <Typography.Title level={2}>{t('All forms')}</Typography.Title>}
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label={t('Forms')}>
          <Table<FormSummary>
            rowKey="form"
            loading={loaded.loading}
            dataSource={all}
            pagination={{ hideOnSinglePage: true, pageSize: 50 }}
            locale={{
              emptyText: (
                <Empty
                  image={Empty.PRESENTED_IMAGE_SIMPLE}
                  description={t('No form is published yet. Publish one: ./nodley publish FILE')}
                />
              ),
            }}
            columns={[
              {
                title: t('Title'),
                key: 'title',
                render: (_, form) => <Link to={`/forms/${form.form}`}>{form.title}</Link>,
              },
              { title: t('Form'), key: 'form', render: (_, form) => <code>{form.form}</code> },
              { title: t('Revision'), dataIndex: 'revision', align: 'right' },
              { title: t('Fields'), dataIndex: 'fields', align: 'right' },
              { title: t('Records'), dataIndex: 'records', align: 'right' },
              ...(isAuthor
                ? [
                    {
                      title: t('Sent in 7 days'),
                      key: 'sent',
                      align: 'right' as const,
                      render: (_: unknown, form: FormSummary) => sent(form),
                    },
                    {
                      title: t('Refused'),
                      key: 'refused',
                      align: 'right' as const,
                      render: (_: unknown, form: FormSummary) => (
                        <Link to={`/attempts?form=${form.form}&verdict=refused`}>
                          {traffic.get(form.form)?.refused ?? 0}
                          <span className="unseen">
                            {' '}
                            {t('refused of {form}', { form: form.title })}
                          </span>
                        </Link>
                      ),
                    },
                  ]
                : []),
            ]}
          />
        </Scrolled>
      )}
    </>
  );
}
