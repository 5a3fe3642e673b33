import { Alert, Button, Modal, Progress, Select, Table } from 'antd';
import { judge, OpenForm, Refusal, Service, type Description, type Json } from 'nodley-page';
import { useOpenForm } from 'nodley-react';
import { useMemo, useState } from 'react';
import { patch, type Kept } from '../api';
import { Scrolled } from '../Scrolled';
import { inWords } from '../useLoaded';
import { t } from '../words';
import { FieldControls } from './FieldControl';

const service = new Service();

/** So many are sent at the same time. */
const AT_ONCE = 4;

interface Props {
  description: Description;
  records: Kept[];
  close: (changed: boolean) => void;
}

/** A record that was not changed, and why. */
interface Refused {
  record: Kept;
  why: string;
}

/** Changes one field of many records; each is judged, and what is refused is told with its reason. */
export function ChangeMany({ description, records, close }: Props) {
  const fields = useMemo(
    () =>
      description.fields.filter(
        (field) =>
          field.kept !== false &&
          field.compute === undefined &&
          field.editable !== false &&
          !['secret', 'file', 'rows', 'group'].includes(field.type),
      ),
    [description],
  );
  const [name, setName] = useState(fields[0]?.name ?? '');
  const [done, setDone] = useState(0);
  const [working, setWorking] = useState(false);
  const [refused, setRefused] = useState<Refused[]>();
  const opened = useOpenForm(
    () =>
      new OpenForm(description, { mode: 'add', values: judge(description, {}).values, service }),
  );
  const field = fields.find((it) => it.name === name);

  const one = async (record: Kept, value: Json): Promise<Refused | undefined> => {
    try {
      await patch(description.form, record.id, record.version, { [name]: value ?? null });
      return undefined;
    } catch (failure) {
      const errors = failure instanceof Refusal ? (failure.problem.errors ?? []) : [];
      const why = errors.length ? errors.map(({ detail }) => detail).join(' ') : inWords(failure);
      return { record, why };
    } finally {
      setDone((before) => before + 1);
    }
  };
  const start = async () => {
    setWorking(true);
    setDone(0);
    const value = opened.typed()[name];
    const failed: Refused[] = [];
    const waiting = [...records];
    const lane = async () => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const outcome = await one(next, value);
        if (outcome) {
          failed.push(outcome);
        }
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, lane));
    setRefused(failed);
    setWorking(false);
  };
  const count = records.length;
  return (
    <Modal
      open
      width={640}
      title={t('Change one field of those chosen ({count})', { count })}
      onCancel={() => !working && close(refused !== undefined)}
      footer={
        refused ? (
          <Button type="primary" onClick={() => close(true)}>
            {t('Close')}
          </Button>
        ) : (
          <>
            <Button disabled={working} onClick={() => close(false)}>
              {t('Cancel')}
            </Button>
            <Button type="primary" loading={working} onClick={() => void start()}>
              {t('Change those chosen ({count})', { count })}
            </Button>
          </>
        )
      }
    >
      {refused ? (
        <Report description={description} count={count} refused={refused} />
      ) : (
        <div className="editor">
          <label className="label" htmlFor="field-to-change">
            {t('Field')}
          </label>
          <Select
            id="field-to-change"
            className="wide"
            disabled={working}
            value={name}
            onChange={setName}
            options={fields.map(({ name: value, label }) => ({ value, label }))}
          />
          <p className="help">
            {t(
              'Each record is judged as if it were edited by hand; what is refused stays as it is.',
            )}
          </p>
          {field && (
            <FieldControls
              key={name}
              form={description.form}
              fields={[field]}
              opened={opened}
              prefix=""
            />
          )}
          <div aria-live="polite">
            {working && (
              <Progress
                percent={Math.round((100 * done) / count)}
                format={() => t('{done} of {count}', { done, count })}
              />
            )}
          </div>
        </div>
      )}
    </Modal>
  );
}

function Report({
  description,
  count,
  refused,
}: {
  description: Description;
  count: number;
  refused: Refused[];
}) {
  return (
    <>
      <Alert
        role="status"
        type={refused.length ? 'warning' : 'success'}
        showIcon
        title={t('Changed: {changed} of {count}. Refused: {refused}.', {
          changed: count - refused.length,
          count,
          refused: refused.length,
        })}
      />
      {refused.length > 0 && (
        <Scrolled label={t('Records that were refused')}>
          <Table<Refused>
            rowKey={({ record }) => record.id}
            size="small"
            dataSource={refused}
            pagination={{ hideOnSinglePage: true, pageSize: 20 }}
            columns={[
              {
                title: description.label,
                key: 'called',
                render: (_, { record }) => (
                  <a
                    href={`/console/forms/${description.form}/records/${record.id}`}
                    target="_blank"
                    rel="noreferrer"
                  >
                    {record.called}
                    <span className="unseen"> {t('(in a new tab)')}</span>
                  </a>
                ),
              },
              { title: t('Why'), dataIndex: 'why' },
            ]}
          />
        </Scrolled>
      )}
    </>
  );
}
