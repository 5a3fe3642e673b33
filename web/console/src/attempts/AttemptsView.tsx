import { Button, Input, Select, Switch, Typography } from 'antd';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { minute } from '../access';
import { forms } from '../api';
import { useLoaded } from '../useLoaded';
import { useQuery } from '../useQuery';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { attempts, VERDICTS, type Attempt } from './attempts';
import { localOf, momentOf } from './times';
import { Verdict } from './Verdict';
import { Listed } from '../Listed';

const ASKED = ['form', 'verdict', 'code', 'field', 'since', 'until', 'before'];

/** So many that came while one looks are shown above the others. */
const MOST_LIVE = 50;

/** What was sent to forms, and what became of it; new ones as they come. For authors. */
export function AttemptsView() {
  const query = useQuery();
  const asked = new URLSearchParams(
    ASKED.flatMap((name) => (query.get(name) ? [[name, query.get(name)]] : [])),
  );
  const loaded = useLoaded(`attempts ${asked}`, () => attempts(asked));
  const known = useLoaded('forms', forms);
  const [live, setLive] = useState(false);
  const news = useNews(live, query.get('form'), query.get('verdict'));
  useTitle(t('Attempts'));
  const ask = (name: string) => (value: string | undefined) =>
    query.set({ before: '', [name]: value ?? '' });
  const shown = [...(live ? news : []), ...(loaded.value?.attempts ?? [])];
  const rows = shown.filter((it, index) => shown.findIndex(({ id }) => id === it.id) === index);
  return (
    <>
      <Typography.Title level={1}>{t('Attempts')}</Typography.Title>
      <p className="help">
        {t(
          'All that was sent to forms in the last 30 days: what was accepted, what was refused, and why.',
        )}
      </p>
      <div className="filters">
        <Select
          aria-label={t('Form')}
          placeholder={t('Every form')}
          allowClear
          showSearch
          optionFilterProp="label"
          value={query.get('form') || null}
          onChange={ask('form')}
          options={(known.value ?? []).map(({ form, title }) => ({ value: form, label: title }))}
        />
        <Select
          aria-label={t('Verdict')}
          placeholder={t('Every verdict')}
          allowClear
          value={query.get('verdict') || null}
          onChange={ask('verdict')}
          options={VERDICTS.map((value) => ({ value, label: t(value) }))}
        />
        <Text name={t('Field')} value={query.get('field')} put={ask('field')} />
        <Text name={t('Code')} value={query.get('code')} put={ask('code')} />
        <label>
          {t('Since')}{' '}
          <Input
            type="datetime-local"
            value={localOf(query.get('since'))}
            onChange={(event) => ask('since')(momentOf(event.target.value))}
          />
        </label>
        <label>
          {t('Until')}{' '}
          <Input
            type="datetime-local"
            value={localOf(query.get('until'))}
            onChange={(event) => ask('until')(momentOf(event.target.value))}
          />
        </label>
        <label>
          <Switch checked={live} onChange={setLive} /> {t('Show new ones as they come')}
        </label>
      </div>
      <Listed<Attempt>
        label={t('Attempts')}
        loaded={loaded}
        rows={rows}
        rowKey="id"
        empty={t('Nothing was sent that is as the filters say.')}
        columns={[
          {
            title: t('When'),
            key: 'at',
            render: (_, it) => (
              <Link to={`/attempts/${it.id}`}>
                {minute(it.at)}
                <span className="unseen"> {it.form}</span>
              </Link>
            ),
          },
          {
            title: t('Form'),
            key: 'form',
            render: (_, it) =>
              t('{form}, revision {revision}', { form: it.form, revision: it.revision }),
          },
          { title: t('What'), key: 'mode', render: (_, it) => t(it.mode) },
          { title: t('Verdict'), key: 'verdict', render: (_, it) => <Verdict of={it} /> },
          {
            title: t('Why'),
            key: 'why',
            render: (_, it) =>
              it.errors.map(({ pointer, code }) => `${pointer.slice(2)} ${code}`).join(', '),
          },
          {
            title: t('Took'),
            key: 'took',
            align: 'right',
            render: (_, it) => `${(it.micros / 1000).toFixed(1)} ms`,
          },
        ]}
      />
      {loaded.value?.before && (
        <Button className="older" onClick={() => query.set({ before: loaded.value!.before! })}>
          {t('Older ones')}
        </Button>
      )}
    </>
  );
}

/** A text that is asked for once it is left. */
function Text({ name, value, put }: { name: string; value: string; put: (value: string) => void }) {
  const [typed, setTyped] = useState(value);
  useEffect(() => setTyped(value), [value]);
  return (
    <Input
      className="short"
      aria-label={name}
      placeholder={name}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => typed.trim() !== value && put(typed.trim())}
      onPressEnter={() => put(typed.trim())}
    />
  );
}

/** Attempts that come while one looks, the latest first. */
function useNews(live: boolean, form: string, verdict: string): Attempt[] {
  const [news, setNews] = useState<Attempt[]>([]);
  useEffect(() => {
    setNews([]);
    if (!live) {
      return;
    }
    const query = new URLSearchParams({ ...(form && { form }), ...(verdict && { verdict }) });
    const source = new EventSource(`/api/attempts/live?${query}`);
    source.addEventListener('attempt', ({ data }: MessageEvent<string>) =>
      setNews((before) => [JSON.parse(data) as Attempt, ...before].slice(0, MOST_LIVE)),
    );
    return () => source.close();
  }, [live, form, verdict]);
  return news;
}
