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

/** What outlets are told: what waits and why, what has failed, and how to send it again. For operators. */
export function DeliveriesView() {
  const [asked, setAsked] = useSearchParams();
  const { message } = App.useApp();
  const places = useLoaded('outlets', outlets);
  const page = useLoaded(`deliveries ${asked}`, () => deliveries(asked));
  useTitle('Deliveries');
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
      <Typography.Title level={1}>Deliveries</Typography.Title>
      {error ? (
        <Failure text={error} again={again} />
      ) : (
        <>
          <Typography.Title level={2}>Outlets</Typography.Title>
          <Scrolled label="Outlets">
            <Table<Outlet>
              rowKey="name"
              size="small"
              loading={places.loading}
              dataSource={places.value ?? []}
              pagination={false}
              locale={{
                emptyText:
                  'The settings have no outlets: places outside that are told of what is accepted.',
              }}
              columns={[
                { title: 'Name', dataIndex: 'name' },
                { title: 'Where', dataIndex: 'where' },
                {
                  title: 'State',
                  key: 'state',
                  render: (_, it) => (it.on ? 'On' : `Off: ${it.why}`),
                },
                {
                  title: 'Waiting',
                  key: 'waiting',
                  render: (_, it) => it.waiting + (it.oldest ? `, since ${minute(it.oldest)}` : ''),
                },
                { title: 'Failed', dataIndex: 'failed' },
                {
                  title: 'Actions',
                  key: 'actions',
                  render: (_, it) => (
                    <span className="actions">
                      <Button
                        size="small"
                        onClick={() =>
                          act(
                            testOutlet(it.name),
                            (told) =>
                              `${it.name} ${told.delivered ? 'took' : 'did not take'} the sample: ${told.answer}.`,
                          )
                        }
                      >
                        Send a sample<span className="unseen"> to {it.name}</span>
                      </Button>
                      <Button
                        size="small"
                        onClick={() =>
                          act(switchOutlet(it.name, !it.on), (now) =>
                            now.on
                              ? `${it.name} is on; what waits is sent.`
                              : `${it.name} is off; what is for it waits.`,
                          )
                        }
                      >
                        Switch {it.on ? 'off' : 'on'}
                        <span className="unseen"> {it.name}</span>
                      </Button>
                    </span>
                  ),
                },
              ]}
            />
          </Scrolled>
          <Typography.Title level={2}>What they are told</Typography.Title>
          <div className="filters">
            <Select
              aria-label="State"
              placeholder="Every state"
              allowClear
              value={asked.get('state')}
              onChange={(value) => ask('state', value ?? undefined)}
              options={STATES.map((value) => ({ value, label: value }))}
            />
            <Select
              aria-label="Outlet"
              placeholder="Every outlet"
              allowClear
              value={asked.get('outlet')}
              onChange={(value) => ask('outlet', value ?? undefined)}
              options={(places.value ?? []).map(({ name }) => ({ value: name, label: name }))}
            />
            <Button onClick={again}>Look again</Button>
          </div>
          <Scrolled label="Deliveries">
            <Table<Delivery>
              rowKey="id"
              size="small"
              loading={page.loading}
              dataSource={page.value?.deliveries ?? []}
              pagination={false}
              locale={{ emptyText: 'There is no such delivery.' }}
              columns={[
                { title: 'Made', key: 'made', render: (_, it) => minute(it.madeAt) },
                { title: 'Outlet', dataIndex: 'outlet' },
                {
                  title: 'Of',
                  key: 'of',
                  render: (_, it) =>
                    it.record && it.change !== 'record.removed' ? (
                      <Link to={`/forms/${it.form}/records/${it.record}`}>
                        {it.form}, version {it.version}
                      </Link>
                    ) : (
                      it.form
                    ),
                },
                { title: 'Change', key: 'change', render: (_, it) => it.change.replace('.', ' ') },
                {
                  title: 'State',
                  key: 'state',
                  render: (_, it) =>
                    it.state + (it.nextAt && it.tries ? `, again ${minute(it.nextAt)}` : ''),
                },
                { title: 'Tries', dataIndex: 'tries' },
                { title: 'Answer', dataIndex: 'answer' },
                {
                  title: 'Actions',
                  key: 'actions',
                  render: (_, it) => (
                    <Button
                      size="small"
                      onClick={() =>
                        act(sendAgain(it.id), () => `It is sent to ${it.outlet} again.`)
                      }
                    >
                      Send again
                      <span className="unseen">
                        : {it.change.replace('.', ' ')} to {it.outlet}, {minute(it.madeAt)}
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
              Older ones
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
