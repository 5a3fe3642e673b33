import { App, Button, Typography } from 'antd';
import { endSession, minute, sessions, type Session } from './access';
import { Searched } from './Searched';
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
      <Searched<Session>
        label={t('Sessions')}
        loaded={loaded}
        rowKey="id"
        texts={(it) => [it.caller, it.by, it.address]}
        empty={t('Nobody is signed in.')}
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
                <span className="unseen"> {t('the session of {name}', { name: it.caller })}</span>
              </Button>
            ),
          },
        ]}
      />
    </>
  );
}
