import { Empty, Select, Statistic, Table } from 'antd';
import type { Description } from 'nodley-page';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { fieldAt } from '../records/values';
import { Scrolled } from '../Scrolled';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useQuery } from '../useQuery';
import { t } from '../words';
import { Bars } from './Bars';
import { DAY, struggles, type Struggles } from './figures';

const DAYS = [1, 7, 30];
/** So many fields are plotted; the table has all. */
const PLOTTED = 12;

/** Where people struggle with a form: which fields were refused, with which codes, and what came of it. */
export function StrugglesTab({ description }: { description: Description }) {
  const { form } = description;
  const query = useQuery();
  const days = Number(query.get('days')) || 7;
  const until = useMemo(() => Date.now(), [days]);
  const since = new Date(until - days * DAY).toISOString();
  const loaded = useLoaded(`struggles ${form} ${days}`, () =>
    struggles(new URLSearchParams({ form, since })),
  );
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  return (
    <>
      <div className="tools">
        <p className="help">
          {t(
            'Counted from attempts. Who sends is told by name, else by address; who is not accepted within an hour of a refusal has left.',
          )}
        </p>
        <Select
          aria-label={t('Period')}
          value={days}
          onChange={(value) => query.set({ days: String(value) })}
          options={DAYS.map((value) => ({
            value,
            label: value === 1 ? t('The last day') : t('The last {days} days', { days: value }),
          }))}
        />
      </div>
      {loaded.value ? (
        <Told description={description} told={loaded.value} since={since} />
      ) : (
        <Waiting />
      )}
    </>
  );
}

function Told({
  description,
  told,
  since,
}: {
  description: Description;
  told: Struggles;
  since: string;
}) {
  const { form } = description;
  if (told.accepted + told.refused + told.failed === 0) {
    return (
      <Empty
        image={Empty.PRESENTED_IMAGE_SIMPLE}
        description={t('Nothing was sent to this form in that time.')}
      />
    );
  }
  const called = (field: string) =>
    field === ''
      ? t('The form as a whole')
      : (fieldAt(description.fields, `#/${field.replaceAll('.', '/')}`)?.label ?? field);
  return (
    <>
      <div className="statistics">
        <Statistic title={t('Accepted')} value={told.accepted} />
        <Statistic title={t('Refused')} value={told.refused} />
        <Statistic title={t('Were refused, then accepted')} value={told.struggled - told.left} />
        <Statistic title={t('Were refused, and left')} value={told.left} />
        <Statistic
          title={t('From the first refusal to acceptance')}
          value={told.medianSeconds === undefined ? '–' : duration(told.medianSeconds)}
        />
      </div>
      {told.fields.length === 0 && <p>{t('Nothing was refused in that time.')}</p>}
      {told.fields.length > 0 && (
        <>
          <Bars
            title={t('How often each field was refused')}
            rows={told.fields.slice(0, PLOTTED).map(({ field, refused, mended }) => ({
              name: called(field),
              mended,
              unmended: Math.max(0, refused - mended),
            }))}
            name="name"
            nameLabel={t('Field')}
            series={[
              { key: 'mended', label: t('accepted later'), pattern: 'full' },
              { key: 'unmended', label: t('not mended'), pattern: 'lines' },
            ]}
            across
            height={60 + 34 * Math.min(PLOTTED, told.fields.length)}
          />
          <Scrolled label={t('Fields')}>
            <Table<Struggles['fields'][number]>
              rowKey="field"
              size="small"
              pagination={false}
              dataSource={told.fields}
              columns={[
                { title: t('Field'), key: 'field', render: (_, it) => called(it.field) },
                {
                  title: t('Refused'),
                  key: 'refused',
                  align: 'right',
                  render: (_, it) => (
                    <Link
                      to={`/attempts?form=${form}&verdict=refused&since=${since}${it.field ? `&field=${it.field}` : ''}`}
                    >
                      {it.refused}
                      <span className="unseen">
                        {' '}
                        {t('attempts with {field}', { field: called(it.field) })}
                      </span>
                    </Link>
                  ),
                },
                { title: t('Accepted later'), dataIndex: 'mended', align: 'right' },
                {
                  title: t('Codes'),
                  key: 'codes',
                  render: (_, it) =>
                    it.codes.map(({ code, count }) => `${code} ${count}`).join(', '),
                },
              ]}
            />
          </Scrolled>
        </>
      )}
    </>
  );
}

function duration(seconds: number): string {
  return seconds < 120
    ? t('{count} s', { count: seconds })
    : t('{count} min', { count: Math.round(seconds / 60) });
}
