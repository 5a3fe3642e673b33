import { Alert, App, Button, Modal, Space, Typography } from 'antd';
import { useState } from 'react';
import {
  addPerson,
  changePerson,
  minute,
  newLink,
  people,
  removePerson,
  words,
  type PasswordLink,
  type Person,
} from './access';
import { Searched } from './Searched';
import { SmallForm } from './SmallForm';
import { inWords, useLoaded } from './useLoaded';
import { useTitle } from './useTitle';
import { t } from './words';

const EMAIL = () => ({ name: 'email', label: t('E-mail address') });
const ROLES = () => ({
  name: 'roles',
  label: t('Roles'),
  help: t('Such as clerk, with commas between them.'),
});

/** The people who sign in with a password: for admins. */
export function PeopleView() {
  const loaded = useLoaded('people', people);
  const [link, setLink] = useState<PasswordLink>();
  const [changing, setChanging] = useState<Person>();
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
      <Searched<Person>
        label={t('People')}
        loaded={loaded}
        rowKey="id"
        texts={(it) => [it.name, it.email, ...it.roles]}
        empty={t('Nobody signs in with a password yet.')}
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
                <Button size="small" onClick={() => setChanging(it)}>
                  {t('Address and roles')}
                  <span className="unseen"> {t('of {name}', { name: it.name })}</span>
                </Button>
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
      <Modal
        open={changing !== undefined}
        title={t('Change {name}', { name: changing?.name ?? '' })}
        footer={null}
        destroyOnHidden
        onCancel={() => setChanging(undefined)}
      >
        {changing && (
          <SmallForm
            label={t('Change {name}', { name: changing.name })}
            prefix="Change-"
            asked={[EMAIL(), ROLES()]}
            initial={{ email: changing.email, roles: changing.roles.join(', ') }}
            button={t('Save')}
            send={async ({ email = '', roles = '' }) => {
              const { warnings } = await changePerson(changing.id, { email, roles: words(roles) });
              warnings.forEach((it) => void message.warning(it));
              setChanging(undefined);
              loaded.again();
            }}
          />
        )}
      </Modal>
      <Typography.Title level={2}>{t('Add somebody')}</Typography.Title>
      <SmallForm
        label={t('Person')}
        prefix="Person-"
        asked={[
          { name: 'name', label: t('Name'), help: t('What they sign in with.') },
          EMAIL(),
          ROLES(),
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
          {link.mailedTo && <p>{t('It was mailed to {address}.', { address: link.mailedTo })}</p>}
          {link.notMailed && (
            <p>
              {t('It could not be mailed ({reason}); hand it over yourself.', {
                reason: link.notMailed,
              })}
            </p>
          )}
          {link.warnings?.map((it) => (
            <p key={it}>{it}</p>
          ))}
        </>
      }
    />
  );
}
