import { Alert, App, Button, Space, Table, Typography } from 'antd';
import { useState } from 'react';
import {
  addPerson,
  minute,
  newLink,
  people,
  removePerson,
  words,
  type PasswordLink,
  type Person,
} from './access';
import { Scrolled } from './Scrolled';
import { SmallForm } from './SmallForm';
import { Failure } from './states';
import { inWords, useLoaded } from './useLoaded';
import { useTitle } from './useTitle';
import { t } from './words';

/** The people who sign in with a password: for admins. */
export function PeopleView() {
  const loaded = useLoaded('people', people);
  const [link, setLink] = useState<PasswordLink>();
  const { modal, message } = App.useApp();
  useTitle(t('People'));
  const failed = (failure: unknown) => void message.error(inWords(failure));
  const remove = (person: Person) =>
    modal.confirm({
      title: t('Remove {name}?', { name: person.name }),
      content: t('They are signed out at once. Their records stay.'),
      okText: t('Remove'),
      okButtonProps: { danger: true },
      onOk: () => removePerson(person.id).then(loaded.again, failed),
    });
  const renew = (person: Person) => void newLink(person.id).then(setLink, failed);
  return (
    <>
      <Typography.Title level={1}>{t('People')}</Typography.Title>
      <div role="status">{link && <LinkTold link={link} />}</div>
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label={t('People')}>
          <Table<Person>
            rowKey="id"
            loading={loaded.loading}
            dataSource={loaded.value ?? []}
            pagination={{ hideOnSinglePage: true, pageSize: 50 }}
            locale={{ emptyText: t('Nobody signs in with a password yet.') }}
            columns={[
              { title: t('Name'), dataIndex: 'name' },
              { title: t('E-mail'), dataIndex: 'email' },
              {
                title: t('Roles'),
                key: 'roles',
                render: (_, it) => it.roles.join(', ') || t('none'),
              },
              {
                title: t('Password'),
                key: 'password',
                render: (_, it) => (it.hasPassword ? t('set') : t('not yet')),
              },
              { title: t('Signed in'), key: 'signedIn', render: (_, it) => minute(it.signedInAt) },
              {
                title: t('Actions'),
                key: 'actions',
                render: (_, it) => (
                  <Space>
                    <Button size="small" onClick={() => renew(it)}>
                      {t('New link')}
                      <span className="unseen"> {t('for {name}', { name: it.name })}</span>
                    </Button>
                    <Button size="small" danger onClick={() => void remove(it)}>
                      {t('Remove')}
                      <span className="unseen"> {it.name}</span>
                    </Button>
                  </Space>
                ),
              },
            ]}
          />
        </Scrolled>
      )}
      <Typography.Title level={2}>{t('Add somebody')}</Typography.Title>
      <SmallForm
        label={t('Person')}
        prefix="Person-"
        asked={[
          { name: 'name', label: t('Name'), help: t('What they sign in with.') },
          { name: 'email', label: t('E-mail address') },
          { name: 'roles', label: t('Roles'), help: t('Such as clerk, with commas between them.') },
        ]}
        button={t('Add')}
        send={async ({ name = '', email = '', roles = '' }) => {
          setLink(await addPerson({ name, email, roles: words(roles) }));
          loaded.again();
        }}
      />
    </>
  );
}

function LinkTold({ link }: { link: PasswordLink }) {
  return (
    <Alert
      type="success"
      showIcon
      className="told"
      title={t('{name} sets a password here, once, until {time}:', {
        name: link.name,
        time: minute(link.until),
      })}
      description={
        <>
          <Typography.Text code copyable>
            {link.link}
          </Typography.Text>
          {link.warnings?.map((it) => (
            <p key={it}>{it}</p>
          ))}
        </>
      }
    />
  );
}
