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

/** The people who sign in with a password: for admins. */
export function PeopleView() {
  const loaded = useLoaded('people', people);
  const [link, setLink] = useState<PasswordLink>();
  const { modal, message } = App.useApp();
  useTitle('People');
  const failed = (failure: unknown) => void message.error(inWords(failure));
  const remove = (person: Person) =>
    modal.confirm({
      title: `Remove ${person.name}?`,
      content: 'They are signed out at once. Their records stay.',
      okText: 'Remove',
      okButtonProps: { danger: true },
      onOk: () => removePerson(person.id).then(loaded.again, failed),
    });
  const renew = (person: Person) => void newLink(person.id).then(setLink, failed);
  return (
    <>
      <Typography.Title level={1}>People</Typography.Title>
      <div role="status">{link && <LinkTold link={link} />}</div>
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label="People">
          <Table<Person>
            rowKey="id"
            loading={loaded.loading}
            dataSource={loaded.value ?? []}
            pagination={{ hideOnSinglePage: true, pageSize: 50 }}
            locale={{ emptyText: 'Nobody signs in with a password yet.' }}
            columns={[
              { title: 'Name', dataIndex: 'name' },
              { title: 'E-mail', dataIndex: 'email' },
              { title: 'Roles', key: 'roles', render: (_, it) => it.roles.join(', ') || 'none' },
              {
                title: 'Password',
                key: 'password',
                render: (_, it) => (it.hasPassword ? 'set' : 'not yet'),
              },
              { title: 'Signed in', key: 'signedIn', render: (_, it) => minute(it.signedInAt) },
              {
                title: 'Actions',
                key: 'actions',
                render: (_, it) => (
                  <Space>
                    <Button size="small" onClick={() => renew(it)}>
                      New link<span className="unseen"> for {it.name}</span>
                    </Button>
                    <Button size="small" danger onClick={() => void remove(it)}>
                      Remove<span className="unseen"> {it.name}</span>
                    </Button>
                  </Space>
                ),
              },
            ]}
          />
        </Scrolled>
      )}
      <Typography.Title level={2}>Add somebody</Typography.Title>
      <SmallForm
        label="Person"
        prefix="Person-"
        asked={[
          { name: 'name', label: 'Name', help: 'What they sign in with.' },
          { name: 'email', label: 'E-mail address' },
          { name: 'roles', label: 'Roles', help: 'Such as clerk, with commas between them.' },
        ]}
        button="Add"
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
      title={`${link.name} sets a password here, once, until ${minute(link.until)}:`}
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
