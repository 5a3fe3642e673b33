import { App, Button, Select, Table, Typography } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { minute } from './access';
import {
  deliveries,
  outlets,
  sendAgain,
  STATES,
  switchOutlet,
  testOutlet,
  type Delivery,
  type Outlet,
} from './deliveries';
import { Scrolled } from './Scrolled';
import { Failure } from './states';
import { inWords, useLoaded } from './useLoaded';
import { useTitle } from './useTitle';
import { t } from './words';

/** What outlets are told: what waits and why, what has failed, and how to send it again. For operators. */
export function DeliveriesView() {
  const [asked, setAsked] = useSearchParams();
  const { message } = App.useApp();
  const places = useLoaded('outlets', outlets);
  const page = useLoaded(`deliveries ${asked}`, () => deliveries(asked));
  useTitle(t('Deliveries'));
  const again = () => {
    places.again();
    page.again();
  };
  /** Does something, says what came of it, and shows what there is then. */
  const act = <T,>(work: Promise<T>, said: (done: T) => string) =>
    void work
      .then(
        (done) => void message.info(said(done)),
        (failure) => void message.error(inWords(failure)),
      )
      .finally(again);
  const ask = (name: string, value: string | undefined) => {
    const next = new URLSearchParams(asked);
    next.delete('before');
    next.delete(name);
    if (value) {
      next.set(name, value);
    }
    setAsked(next);
  };
  const error = places.error ?? page.error;
  return (
    <>
      <Typography.Title level={1}>{t('Deliveries')}</Typography.Title>
      {error ? (
        <Failure text={error} again={again} />
      ) : (
        <>
          <Typography.Title level={2}>{t('Outlets')}</Typography.Title>
          <Scrolled label={t('Outlets')}>
            <Table<Outlet>
              rowKey="name"
              size="small"
              loading={places.loading}
              dataSource={places.value ?? []}
              pagination={false}
              locale={{
                emptyText: t(
                  'The settings have no outlets: places outside that are told of what is accepted.',
                ),
              }}
              columns={[
                { title: t('Name'), dataIndex: 'name' },
                { title: t('Where'), dataIndex: 'where' },
                {
                  title: t('State'),
                  key: 'state',
                  render: (_, it) => (it.on ? t('On') : t('Off: {why}', { why: it.why ?? '' })),
                },
                {
                  title: t('Waiting'),
                  key: 'waiting',
                  render: (_, it) =>
                    it.oldest
                      ? t('{count}, since {time}', { count: it.waiting, time: minute(it.oldest) })
                      : it.waiting,
                },
                { title: t('Failed'), dataIndex: 'failed' },
                {
                  title: t('Actions'),
                  key: 'actions',
                  render: (_, it) => (
                    <span className="actions">
                      <Button
                        size="small"
                        onClick={() =>
                          act(testOutlet(it.name), (told) =>
                            told.delivered
                              ? t('{name} took the sample: {answer}.', {
                                  name: it.name,
                                  answer: told.answer,
                                })
                              : t('{name} did not take the sample: {answer}.', {
                                  name: it.name,
                                  answer: told.answer,
                                }),
                          )
                        }
                      >
                        {t('Send a sample')}
                        <span className="unseen"> {t('to {name}', { name: it.name })}</span>
                      </Button>
                      <Button
                        size="small"
                        onClick={() =>
                          act(switchOutlet(it.name, !it.on), (now) =>
                            now.on
                              ? t('{name} is on; what waits is sent.', { name: it.name })
                              : t('{name} is off; what is for it waits.', { name: it.name }),
                          )
                        }
                      >
                        {it.on ? t('Switch off') : t('Switch on')}
                        <span className="unseen"> {it.name}</span>
                      </Button>
                    </span>
                  ),
                },
              ]}
            />
          </Scrolled>
          <Typography.Title level={2}>{t('What they are told')}</Typography.Title>
          <div className="filters">
            <Select
              aria-label={t('State')}
              placeholder={t('Every state')}
              allowClear
              value={asked.get('state')}
              onChange={(value) => ask('state', value ?? undefined)}
              options={STATES.map((value) => ({ value, label: t(value) }))}
            />
            <Select
              aria-label={t('Outlet')}
              placeholder={t('Every outlet')}
              allowClear
              value={asked.get('outlet')}
              onChange={(value) => ask('outlet', value ?? undefined)}
              options={(places.value ?? []).map(({ name }) => ({ value: name, label: name }))}
            />
            <Button onClick={again}>{t('Look again')}</Button>
          </div>
          <Scrolled label={t('Deliveries')}>
            <Table<Delivery>
              rowKey="id"
              size="small"
              loading={page.loading}
              dataSource={page.value?.deliveries ?? []}
              pagination={false}
              locale={{
                emptyText:
                  asked.get('state') || asked.get('outlet')
                    ? t('There is no such delivery.')
                    : t('Nothing has been delivered yet. A form says whom it tells by deliver.'),
              }}
              columns={[
                { title: t('Made'), key: 'made', render: (_, it) => minute(it.madeAt) },
                { title: t('Outlet'), dataIndex: 'outlet' },
                {
                  title: t('Of'),
                  key: 'of',
                  render: (_, it) =>
                    it.record && it.change !== 'record.removed' ? (
                      <Link to={`/forms/${it.form}/records/${it.record}`}>
                        {t('{form}, version {version}', {
                          form: it.form,
                          version: it.version ?? 0,
                        })}
                      </Link>
                    ) : (
                      it.form
                    ),
                },
                {
                  title: t('Change'),
                  key: 'change',
                  render: (_, it) => it.change.replace('.', ' '),
                },
                {
                  title: t('State'),
                  key: 'state',
                  render: (_, it) =>
                    it.nextAt && it.tries
                      ? t('{state}, again {time}', { state: t(it.state), time: minute(it.nextAt) })
                      : t(it.state),
                },
                { title: t('Tries'), dataIndex: 'tries' },
                { title: t('Answer'), dataIndex: 'answer' },
                {
                  title: t('Actions'),
                  key: 'actions',
                  render: (_, it) => (
                    <Button
                      size="small"
                      onClick={() =>
                        act(sendAgain(it.id), () =>
                          t('It is sent to {outlet} again.', { outlet: it.outlet }),
                        )
                      }
                    >
                      {t('Send again')}
                      <span className="unseen">
                        {': '}
                        {t('{change} to {outlet}, {time}', {
                          change: it.change.replace('.', ' '),
                          outlet: it.outlet,
                          time: minute(it.madeAt),
                        })}
                      </span>
                    </Button>
                  ),
                },
              ]}
            />
          </Scrolled>
          {page.value?.before && (
            <Button
              className="older"
              onClick={() => setOlder(asked, setAsked, page.value!.before!)}
            >
              {t('Older ones')}
            </Button>
          )}
        </>
      )}
    </>
  );
}

function setOlder(
  asked: URLSearchParams,
  setAsked: (next: URLSearchParams) => void,
  before: string,
): void {
  const next = new URLSearchParams(asked);
  next.set('before', before);
  setAsked(next);
}
