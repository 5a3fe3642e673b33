import { Link } from 'react-router';
import { minute } from '../access';
import { attempts, type Attempt } from '../attempts/attempts';
import { Verdict } from '../attempts/Verdict';
import { deliveries, type Delivery } from '../deliveries';
import { useLoaded } from '../useLoaded';
import { t } from '../words';
import { Listed } from '../Listed';

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
      <Listed<Attempt>
        label={t('Attempts')}
        loaded={loaded}
        rows={loaded.value?.attempts ?? []}
        rowKey="id"
        empty={t('None is in the log, which keeps 30 days.')}
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
    </>
  );
}

function Deliveries({ id }: { id: string }) {
  const loaded = useLoaded(id, () => deliveries(new URLSearchParams({ record: id })));
  return (
    <>
      <h2>{t('Deliveries')}</h2>
      <Listed<Delivery>
        label={t('Deliveries')}
        loaded={loaded}
        rows={loaded.value?.deliveries ?? []}
        rowKey="id"
        empty={t('No outlet is told of this record.')}
        columns={[
          { title: t('Made'), key: 'made', render: (_, it) => minute(it.madeAt) },
          { title: t('Outlet'), dataIndex: 'outlet' },
          { title: t('State'), key: 'state', render: (_, it) => t(it.state) },
          { title: t('Answer'), dataIndex: 'answer' },
        ]}
      />
    </>
  );
}
