import { Alert, App, Button, Table, Typography } from 'antd';
import { useState } from 'react';
import { endKey, keys, makeKey, words, type NewKey, type ProgramKey } from './access';
import { Scrolled } from './Scrolled';
import { SmallForm } from './SmallForm';
import { Failure } from './states';
import { inWords, useLoaded } from './useLoaded';
import { useTitle } from './useTitle';

/** The keys of programs: for admins. */
export function KeysView() {
  const loaded = useLoaded('keys', keys);
  const [made, setMade] = useState<NewKey>();
  const { modal, message } = App.useApp();
  useTitle('Keys');
  const end = (key: ProgramKey) =>
    modal.confirm({
      title: `End the key ${key.name}?`,
      content: 'Programs that show it are refused at once.',
      okText: 'End it',
      okButtonProps: { danger: true },
      onOk: () =>
        endKey(key.name).then(loaded.again, (failure) => void message.error(inWords(failure))),
    });
  return (
    <>
      <Typography.Title level={1}>Keys</Typography.Title>
      <div role="status">
        {made && (
          <Alert
            type="success"
            showIcon
            className="told"
            title={`The key ${made.name}, shown this once:`}
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
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label="Keys">
          <Table<ProgramKey>
            rowKey="name"
            loading={loaded.loading}
            dataSource={loaded.value ?? []}
            pagination={{ hideOnSinglePage: true, pageSize: 50 }}
            columns={[
              { title: 'Name', dataIndex: 'name' },
              { title: 'Roles', key: 'roles', render: (_, it) => it.roles.join(', ') || 'none' },
              { title: 'Forms', key: 'forms', render: (_, it) => it.forms.join(', ') || 'all' },
              { title: 'Until', dataIndex: 'until' },
              {
                title: 'Last used',
                key: 'used',
                render: (_, { lastUse }) =>
                  lastUse ? `${lastUse.day} from ${lastUse.address}` : 'never',
              },
              {
                title: 'Actions',
                key: 'actions',
                render: (_, it) => (
                  <Button size="small" danger onClick={() => void end(it)}>
                    End<span className="unseen"> {it.name}</span>
                  </Button>
                ),
              },
            ]}
          />
        </Scrolled>
      )}
      <Typography.Title level={2}>Make a key</Typography.Title>
      <SmallForm
        label="Key"
        prefix="Key-"
        asked={[
          { name: 'name', label: 'Name', help: 'What it is called in lists and logs.' },
          { name: 'roles', label: 'Roles', help: 'Such as author, with commas between them.' },
          { name: 'forms', label: 'Forms', help: 'The names of forms; left blank, all.' },
          { name: 'until', label: 'Last day', help: 'Such as 2027-06-30; left blank, none.' },
        ]}
        button="Make"
        send={async ({ name = '', roles = '', forms = '', until = '' }) => {
          setMade(await makeKey({ name, roles: words(roles), forms: words(forms), until }));
          loaded.again();
        }}
      />
    </>
  );
}
