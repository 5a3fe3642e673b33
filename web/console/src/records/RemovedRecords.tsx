import { App, Button, Space } from 'antd';
import { minute } from '../access';
import { forget, putBack, removedRecords, type Removed } from '../api';
import { Listed } from '../Listed';
import { inWords, useLoaded } from '../useLoaded';
import { t } from '../words';

interface Props {
  form: string;
  /** Called when a record is among the others again. */
  changed: () => void;
}

/** The records that were removed lately; each can be put back, or forgotten before its time. */
export function RemovedRecords({ form, changed }: Props) {
  const { modal, message } = App.useApp();
  const loaded = useLoaded(`removed ${form}`, () => removedRecords(form));
  const name = (it: Removed) => it.called ?? it.id;
  const failed = (failure: unknown) => void message.error(inWords(failure));
  const back = (it: Removed) =>
    void putBack(form, it.id).then(() => {
      void message.success(t('{name} is back.', { name: name(it) }));
      loaded.again();
      changed();
    }, failed);
  const drop = (it: Removed) =>
    void modal.confirm({
      title: t('Forget {name} for good?', { name: name(it) }),
      content: t('The record goes with all its versions and files, and cannot be put back.'),
      okText: t('Forget it'),
      okButtonProps: { danger: true },
      cancelText: t('Keep it'),
      onOk: () => forget(form, it.id).then(loaded.again, failed),
    });
  return (
    <Listed<Removed>
      label={t('Removed records')}
      loaded={loaded}
      rows={loaded.value ?? []}
      rowKey="id"
      empty={t('Nothing was removed lately. What is removed stands here for a while.')}
      columns={[
        { title: t('Record'), key: 'called', render: (_, it) => name(it) },
        {
          title: t('Removed'),
          key: 'removed',
          render: (_, it) =>
            it.removedBy
              ? t('by {who}, {time}', { who: it.removedBy, time: minute(it.removedAt) })
              : minute(it.removedAt),
        },
        { title: t('Until'), key: 'until', render: (_, it) => it.until.slice(0, 10) },
        {
          title: t('Actions'),
          key: 'actions',
          render: (_, it) => (
            <Space>
              <Button size="small" onClick={() => back(it)}>
                {t('Put back')}
                <span className="unseen"> {name(it)}</span>
              </Button>
              <Button size="small" danger onClick={() => drop(it)}>
                {t('Forget')}
                <span className="unseen"> {name(it)}</span>
              </Button>
            </Space>
          ),
        },
      ]}
    />
  );
}
