import { Empty, Table } from 'antd';
import { Link } from 'react-router';
import { minute } from '../access';
import { attempts, type Attempt } from '../attempts/attempts';
import { Verdict } from '../attempts/Verdict';
import { deliveries, type Delivery } from '../deliveries';
import { Scrolled } from '../Scrolled';
import { Failure } from '../states';
import { useLoaded } from '../useLoaded';
import { t } from '../words';

interface Props {
  form: string;
  id: string;
  author: boolean;
  operator: boolean;
}

/** What was sent to a record, and what outlets were told of it. */
export function Caused({ form, id, author, operator }: Props) {
  return (
    <>
      {author && <Attempts {...{ form, id }} />}
      {operator && <Deliveries {...{ id }} />}
    </>
  );
}

function Attempts({ form, id }: { form: string; id: string }) {
  const loaded = useLoaded(id, () => attempts(new URLSearchParams({ form, record: id })));
  return (
    <>
      <h2>{t('Attempts')}</h2>
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label={t('Attempts')}>
          <Table<Attempt>
            rowKey="id"
            size="small"
            loading={loaded.loading}
            dataSource={loaded.value?.attempts ?? []}
            pagination={false}
            locale={{
              emptyText: (
                <Empty
                  image={Empty.PRESENTED_IMAGE_SIMPLE}
                  description={t('None is in the log, which keeps 30 days.')}
                />
              ),
            }}
            columns={[
              {
                title: t('When'),
                key: 'at',
                render: (_, it) => <Link to={`/attempts/${it.id}`}>{minute(it.at)}</Link>,
              },
              { title: t('What'), dataIndex: 'mode' },
              { title: t('Verdict'), key: 'verdict', render: (_, it) => <Verdict of={it} /> },
            ]}
          />
        </Scrolled>
      )}
    </>
  );
}

function Deliveries({ id }: { id: string }) {
  const loaded = useLoaded(id, () => deliveries(new URLSearchParams({ record: id })));
  return (
    <>
      <h2>{t('Deliveries')}</h2>
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label={t('Deliveries')}>
          <Table<Delivery>
            rowKey="id"
            size="small"
            loading={loaded.loading}
            dataSource={loaded.value?.deliveries ?? []}
            pagination={false}
            locale={{
              emptyText: (
                <Empty
                  image={Empty.PRESENTED_IMAGE_SIMPLE}
                  description={t('No outlet is told of this record.')}
                />
              ),
            }}
            columns={[
              { title: t('Made'), key: 'made', render: (_, it) => minute(it.madeAt) },
              { title: t('Outlet'), dataIndex: 'outlet' },
              { title: t('State'), key: 'state', render: (_, it) => t(it.state) },
              { title: t('Answer'), dataIndex: 'answer' },
            ]}
          />
        </Scrolled>
      )}
    </>
  );
}
