import { App, Button, Table, Typography } from 'antd';
import { endSession, minute, sessions, type Session } from './access';
import { Scrolled } from './Scrolled';
import { Failure } from './states';
import { inWords, useLoaded } from './useLoaded';
import { useTitle } from './useTitle';
import { t } from './words';

/** Who is signed in: an admin sees everybody, others see themselves. */
export function SessionsView() {
  const loaded = useLoaded('sessions', sessions);
  const { message } = App.useApp();
  useTitle(t('Sessions'));
  const end = (session: Session) =>
    void endSession(session.id).then(
      () => (session.current ? window.location.reload() : loaded.again()),
      (failure) => void message.error(inWords(failure)),
    );
  return (
    <>
      <Typography.Title level={1}>{t('Sessions')}</Typography.Title>
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label={t('Sessions')}>
          <Table<Session>
            rowKey="id"
            loading={loaded.loading}
            dataSource={loaded.value ?? []}
            pagination={{ hideOnSinglePage: true, pageSize: 50 }}
            columns={[
              {
                title: t('Who'),
                key: 'who',
                render: (_, it) => it.caller + (it.current ? ` ${t('(this one)')}` : ''),
              },
              { title: t('By'), dataIndex: 'by' },
              { title: t('Begun'), key: 'begun', render: (_, it) => minute(it.begunAt) },
              { title: t('Last used'), key: 'used', render: (_, it) => minute(it.usedAt) },
              { title: t('From'), dataIndex: 'address' },
              {
                title: t('Actions'),
                key: 'actions',
                render: (_, it) => (
                  <Button size="small" danger onClick={() => end(it)}>
                    {t('End')}
                    <span className="unseen">
                      {' '}
                      {t('the session of {name}', { name: it.caller })}
                    </span>
                  </Button>
                ),
              },
            ]}
          />
        </Scrolled>
      )}
    </>
  );
}
