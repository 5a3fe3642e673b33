import { Alert, App, Button, Typography } from 'antd';
import { useState } from 'react';
import { endKey, keys, makeKey, words, type NewKey, type ProgramKey } from './access';
import { Searched } from './Searched';
import { SmallForm } from './SmallForm';
import { inWords, useLoaded } from './useLoaded';
import { useTitle } from './useTitle';
import { t } from './words';

/** The keys of programs: for admins. */
export function KeysView() {
  const loaded = useLoaded('keys', keys);
  const [made, setMade] = useState<NewKey>();
  const { modal, message } = App.useApp();
  useTitle(t('Keys'));
  const end = (key: ProgramKey) =>
    modal.confirm({
      title: t('End the key {name}?', { name: key.name }),
      content: t('Programs that show it are refused at once.'),
      okText: t('End it'),
      okButtonProps: { danger: true },
      onOk: () =>
        endKey(key.name).then(loaded.again, (failure) => void message.error(inWords(failure))),
    });
  return (
    <>
      <Typography.Title level={1}>{t('Keys')}</Typography.Title>
      <div role="status">
        {made && (
          <Alert
            type="success"
            showIcon
            className="told"
            title={t('The key {name}, shown this once:', { name: made.name })}
            description={
              <>
                <Typography.Text code copyable>
                  {made.key}
                </Typography.Text>
                {made.warnings.map((it) => (
                  <p key={it}>{it}</p>
                ))}
              </>
            }
          />
        )}
      </div>
      <Searched<ProgramKey>
        label={t('Keys')}
        loaded={loaded}
        rowKey="name"
        texts={(it) => [it.name, ...it.roles, ...it.forms]}
        empty={t('No program has a key yet.')}
        columns={[
          { title: t('Name'), dataIndex: 'name' },
          {
            title: t('Roles'),
            key: 'roles',
            render: (_, it) => it.roles.join(', ') || t('none'),
          },
          {
            title: t('Forms'),
            key: 'forms',
            render: (_, it) => it.forms.join(', ') || t('all'),
          },
          { title: t('Until'), dataIndex: 'until' },
          {
            title: t('Last used'),
            key: 'used',
            render: (_, { lastUse }) =>
              lastUse ? t('{day} from {address}', { ...lastUse }) : t('never'),
          },
          {
            title: t('Actions'),
            key: 'actions',
            render: (_, it) => (
              <Button size="small" danger onClick={() => void end(it)}>
                {t('End')}
                <span className="unseen"> {it.name}</span>
              </Button>
            ),
          },
        ]}
      />
      <Typography.Title level={2}>{t('Make a key')}</Typography.Title>
      <SmallForm
        label={t('Key')}
        prefix="Key-"
        asked={[
          { name: 'name', label: t('Name'), help: t('What it is called in lists and logs.') },
          {
            name: 'roles',
            label: t('Roles'),
            help: t('Such as author, with commas between them.'),
          },
          { name: 'forms', label: t('Forms'), help: t('The names of forms; left blank, all.') },
          { name: 'until', label: t('Last day'), help: t('Such as 2027-06-30; left blank, none.') },
        ]}
        button={t('Make')}
        send={async ({ name = '', roles = '', forms = '', until = '' }) => {
          setMade(await makeKey({ name, roles: words(roles), forms: words(forms), until }));
          loaded.again();
        }}
      />
    </>
  );
}
